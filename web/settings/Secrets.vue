<script setup lang="ts">
/** How secrets are made for each band of grades, with what a day of guessing at one account is worth. */
import { locale, t } from '@/words';
import Figures from '@/kit/Figures.vue';
import Choice from '@/kit/Choice.vue';
import { SelectOption } from 'ant-design-vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';
import { guessedInADay, recipeName, recipes, strengthBits } from '#core/accounts/secret';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
/** Wrong attempts that an account takes in a day. */
const triesADay = 60;
type Band = DistrictState['settings']['bands'][number];
const chance = ({ recipe }: Band) => {
  const p = guessedInADay(recipe, triesADay);
  return t('district.1In', { Number: Number((1 / p).toPrecision(2)).toLocaleString(locale) });
};
const { keep } = useKeep(() => emit('changed'));
function choose(band: Band, name: string): Promise<void> {
  const recipe = recipes[name]!;
  const bands = props.state.settings.bands.map((one) => (one.name === band.name ? { ...one, recipe } : one));
  return keep({ bands }, t('district.newPasswordsForAreMade', { name: band.name }));
}
</script>

<template>
  <section class="grid gap-8px content-start">
    <h1>{{ t('district.studentPasswords') }}</h1>
    <Figures
      :rows="state.settings.bands"
      :row-key="(band) => band.name"
      :columns="[
        { key: 'name', title: t('district.grades'), heading: true },
        { key: 'recipe', title: t('district.pattern') },
        { key: 'bits', title: t('district.strengthBits'), number: true },
        {
          key: 'chance',
          title: t('district.guessedInADay'),
          number: true,
          cellClass: (band) => ({ rust: guessedInADay(band.recipe, triesADay) > 0.001 }),
        },
      ]"
    >
      <template #recipe="{ row: band }">
        <Choice
          :value="recipeName(band.recipe)"
          :aria-label="t('district.passwordsOf', { name: band.name })"
          :disabled="!session.may('settings.change')"
          @update:value="(name) => choose(band, name)"
        >
          <SelectOption v-for="(_, name) in recipes" :key="name" :value="name">{{ name }}</SelectOption>
        </Choice>
      </template>
      <template #bits="{ row: band }">{{ strengthBits(band.recipe).toFixed(1) }}</template>
      <template #chance="{ row: band }">{{ chance(band) }}</template>
    </Figures>
    <p class="quiet text-12px">
      {{ t('district.anAccountAllowsWrongAttempts', { triesADay }) }}
    </p>
  </section>
</template>
