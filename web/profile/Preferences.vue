<script setup lang="ts">
/** How the person wants to see Sheaf, on every machine. */
import { Button, RadioButton, RadioGroup } from 'ant-design-vue';
import type { Preferences, UiLanguage } from '#core/preferences/index';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';

const session = useSession();
const work = useWork();
/** Each language by its own name. */
const languages: [UiLanguage | '', string][] = [
  ['', 'Browser default'],
  ['en-US', 'English'],
  ['es-US', 'Español'],
];
const themes: [Preferences['theme'], string][] = [
  ['system', 'As the system'],
  ['day', 'Day'],
  ['night', 'Night'],
];
const densities: [Preferences['density'], string][] = [
  ['dense', 'Dense'],
  ['roomy', 'Roomy'],
];
async function prefer(some: Partial<Preferences>): Promise<void> {
  try {
    await session.prefer(some);
    // Texts are read once.
    if ('language' in some) location.reload();
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section class="preferences">
    <h2>Preferences</h2>
    <div class="row">
      <span id="p-language">Language</span>
      <RadioGroup
        :value="session.preferences.language ?? ''"
        aria-labelledby="p-language"
        @update:value="(value: string) => prefer({ language: (value || null) as UiLanguage | null })"
      >
        <RadioButton v-for="[value, label] in languages" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <div class="row">
      <span id="p-theme">Colors</span>
      <RadioGroup
        :value="session.preferences.theme"
        aria-labelledby="p-theme"
        @update:value="(theme: Preferences['theme']) => prefer({ theme })"
      >
        <RadioButton v-for="[value, label] in themes" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <div class="row">
      <span id="p-density">Lists</span>
      <RadioGroup
        :value="session.preferences.density"
        aria-labelledby="p-density"
        @update:value="(density: Preferences['density']) => prefer({ density })"
      >
        <RadioButton v-for="[value, label] in densities" :key="value" :value="value">{{ label }}</RadioButton>
      </RadioGroup>
    </div>
    <Button v-if="session.preferences.hidden.length > 0" size="small" @click="prefer({ hidden: [] })"
      >Show what I hid</Button
    >
  </section>
</template>

<style scoped>
.preferences {
  display: grid;
  gap: 8px;
}
.row > span {
  width: 90px;
}
</style>
