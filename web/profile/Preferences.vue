<script setup lang="ts">
/** How the person wants to see Sheaf, on every machine. */
import { speak, t } from '@/words';
import { Button, RadioButton, RadioGroup } from 'ant-design-vue';
import type { Preferences, UiLanguage } from '#core/preferences/index';
import { densities, languages, themes } from './choices';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';

const session = useSession();
const work = useWork();
async function prefer(some: Partial<Preferences>): Promise<void> {
  try {
    await session.prefer(some);
    if (some.language !== undefined) speak(some.language);
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section class="preferences grid gap-8px">
    <h2>{{ t('profile.preferences') }}</h2>
    <div class="row">
      <span id="p-language" class="w-90px">{{ t('profile.language') }}</span>
      <RadioGroup
        :value="session.preferences.language ?? ''"
        aria-labelledby="p-language"
        @update:value="(value: string) => prefer({ language: (value || null) as UiLanguage | null })"
      >
        <RadioButton v-for="[value, label] in languages" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <div class="row">
      <span id="p-theme" class="w-90px">{{ t('profile.colors') }}</span>
      <RadioGroup
        :value="session.preferences.theme"
        aria-labelledby="p-theme"
        @update:value="(theme: Preferences['theme']) => prefer({ theme })"
      >
        <RadioButton v-for="[value, label] in themes" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <div class="row">
      <span id="p-density" class="w-90px">{{ t('profile.lists') }}</span>
      <RadioGroup
        :value="session.preferences.density"
        aria-labelledby="p-density"
        @update:value="(density: Preferences['density']) => prefer({ density })"
      >
        <RadioButton v-for="[value, label] in densities" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <Button v-if="session.preferences.hidden.length > 0" size="small" @click="prefer({ hidden: [] })">{{
      t('profile.showWhatIHid')
    }}</Button>
  </section>
</template>
