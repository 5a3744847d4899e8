<script setup lang="ts">
/** The signed-in person’s menu: profile, language, colors, density, sign out. */
import { speak, t } from '@/words';
import { useRouter } from 'vue-router';
import type { Preferences } from '#core/preferences/index';
import More from '@/kit/More.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { densities, languages, themes } from '@/profile/choices';
import { computed } from 'vue';

const session = useSession();
const work = useWork();
const router = useRouter();
async function prefer(some: Partial<Preferences>): Promise<void> {
  try {
    await session.prefer(some);
    if (some.language !== undefined) speak(some.language);
  } catch (error) {
    work.wrong(error);
  }
}
const items = computed(() => {
  const { theme, density, language } = session.preferences;
  return [
    { label: t('frame.profileAndPassword'), run: () => void router.push('/profile') },
    ...languages.map(([value, label]) => ({
      label,
      group: t('profile.language'),
      run: () => void prefer({ language: value || null }),
      current: (language ?? '') === value,
    })),
    ...themes.map(([value, label]) => ({
      label,
      group: t('profile.colors'),
      run: () => void prefer({ theme: value }),
      current: theme === value,
    })),
    ...densities.map(([value, label]) => ({
      label,
      group: t('profile.lists'),
      run: () => void prefer({ density: value }),
      current: density === value,
    })),
    { label: t('frame.signOut'), run: () => void session.leave() },
  ];
});
</script>

<template>
  <More v-if="session.me" plain :label="session.me.name" :items="items" />
</template>
