<script setup lang="ts">
/** What needs attention, most urgent first, each line with where to do something about it. */
import { t } from '@/words';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { useLoad } from '@/kit/load';
import { useSession } from '@/stores/session';
import { usePlace } from './place';

const session = useSession();
const place = usePlace();
const today = useLoad(t('today.today'), 'GET /api/today', () => ({ query: place.value }));
/** Seats are counted beside; the rest does not wait for them. */
const beside = useLoad(
  t('today.licensesAndDevices'),
  'GET /api/today/attention',
  () => ({ query: { school: place.value.school } }),
  { enabled: () => session.may('licenses.see') || session.may('devices') },
);
const waits = computed(() =>
  [...(today.data.value?.waits ?? []), ...(beside.data.value ?? [])].sort((a, b) => b.urgency - a.urgency),
);
</script>

<template>
  <section class="[flex:1_1_300px] min-w-280px">
    <h2>{{ t('today.needsAttention') }}</h2>
    <ul>
      <li v-for="w in waits" :key="w.id + w.text" class="flex gap-8px items-baseline py-7px px-0 ruled-b">
        <span
          class="mark w-8px h-8px [border:1.5px_solid_var(--quiet)] flex-none"
          :class="{ urgent: w.urgency >= 80 }"
          aria-hidden="true"
        /><span class="grow">{{ w.text }}</span
        ><RouterLink :to="w.to">{{ w.action }}</RouterLink>
      </li>
      <li v-if="today.data.value && waits.length === 0" class="quiet flex gap-8px items-baseline py-7px px-0 ruled-b">
        {{ t('today.nothingNeedsYourAttention')
        }}<template v-if="session.may('imports')"
          >&nbsp;<RouterLink to="/imports">{{ t('today.importARoster') }}</RouterLink></template
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
a {
  white-space: nowrap;
}
.mark.urgent {
  border-color: var(--rust);
  background: var(--rust);
  transform: rotate(45deg);
}
</style>
