<script setup lang="ts">
/** How the district is set up, a room for each matter; each is changed where it stands. */
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { t } from '@/words';
import Rooms from '@/kit/Rooms.vue';
import { useSession } from '@/stores/session';
import { useLoad } from '@/kit/load';

const session = useSession();
const route = useRoute();
const state = useLoad(t('places.settings'), 'GET /api/district');
const rooms = computed(() => {
  const all: [string, string, boolean?][] = [
    ['year', t('settings.schoolYear')],
    ['schools', t('settings.schools')],
    ['staff', t('settings.staff')],
    ['usernames', t('settings.usernames')],
    ['passwords', t('settings.passwords')],
    ['sign-on', t('settings.signOn')],
    ['security', t('settings.security')],
    ['feeds', t('settings.feeds')],
    ['directory', t('settings.directory'), session.may('directory')],
    ['products', t('settings.products'), session.may('product.keys')],
    ['mail', t('settings.mail')],
    ['letters', t('settings.lettersHome')],
    ['devices', t('settings.devices')],
    ['retention', t('settings.retention'), session.may('retention')],
  ];
  return all.flatMap(([room, name, may = true]) => (may ? [[`/settings/${room}`, name] as const] : []));
});
/** What a room is given: those that change the district's own settings share them. */
const given = computed(() =>
  route.meta.settings ? { state: state.data.value!, onChanged: () => void state.refetch() } : {},
);
</script>

<template>
  <Rooms v-slot="{ Component }" :label="t('frame.settings')" :rooms="rooms" beside>
    <div class="overflow-auto py-16px px-20px">
      <component :is="Component" v-if="state.data.value || !route.meta.settings" v-bind="given" />
    </div>
  </Rooms>
</template>
