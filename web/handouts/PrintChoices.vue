<script setup lang="ts">
/** How it is printed: layout, paper, backs, language; kept for the next time. */
import { Checkbox, SelectOption } from 'ant-design-vue';
import { hasPieces, isCard, languages, type Layout, papers } from '#core/cards/index';
import Choice from '@/kit/Choice.vue';
import NumberInput from '@/kit/NumberInput.vue';
import { t } from '@/words';
import { usePrintForm } from './form';

/** For this print alone. */
const onlyOutdated = defineModel<boolean>('onlyOutdated', { required: true });
const voidOlder = defineModel<boolean>('voidOlder', { required: true });
const form = usePrintForm();
const layoutWords: Record<Layout, string> = {
  cards: t('places.cardsEightToASheet'),
  badges: t('places.badgesTheSizeOfA'),
  strips: t('places.stripsCutStraightAcross'),
  letters: t('places.letters'),
  labels: t('places.labelsWithoutPasswords'),
  list: t('places.binderList'),
};
</script>

<template>
  <div class="row flex-wrap gap-y-4px gap-x-16px">
    <label
      >{{ t('places.layout') }}
      <Choice v-model:value="form.layout">
        <SelectOption v-for="(words, key) in layoutWords" :key="key" :value="key">{{ words }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('places.paper') }}
      <Choice v-model:value="form.paper">
        <SelectOption v-for="(_, key) in papers" :key="key" :value="key">{{ key }}</SelectOption>
      </Choice></label
    >
    <label v-if="form.layout === 'cards' || form.layout === 'badges'"
      >{{ t('places.backs') }}
      <Choice v-model:value="form.backs">
        <SelectOption value="">{{ t('common.none') }}</SelectOption>
        <SelectOption value="long">{{ t('places.flippedOnTheLongEdge') }}</SelectOption>
        <SelectOption value="short">{{ t('places.flippedOnTheShortEdge') }}</SelectOption>
      </Choice></label
    >
    <label v-if="form.layout === 'labels'"
      >{{ t('places.labelsAlreadyUsedOnThe') }}
      <NumberInput
        v-model:value="form.skip"
        class="w-64px"
        :min="0"
        :max="100"
        :aria-label="t('places.labelsAlreadyUsed')"
    /></label>
    <label v-if="form.layout !== 'labels' && form.layout !== 'list'"
      >{{ t('places.secondLanguage') }}
      <Choice v-model:value="form.language">
        <SelectOption value="">{{ t('places.theFamilysLanguageWhereIt') }}</SelectOption>
        <SelectOption v-for="(name, key) in languages" :key="key" :value="key">{{
          t('places.languageToCheck', { name })
        }}</SelectOption>
      </Choice></label
    >
  </div>
  <div v-if="isCard(form.layout)" class="row flex-wrap gap-y-4px gap-x-16px">
    <Checkbox v-if="hasPieces(form.layout)" v-model:checked="form.stacked">
      {{ t('places.inClassOrderAfterCutting') }}</Checkbox
    >
    <Checkbox v-if="hasPieces(form.layout)" v-model:checked="form.large">
      {{ t('places.largeGivenNamesUpTo') }}</Checkbox
    >
    <Checkbox v-model:checked="onlyOutdated"> {{ t('places.onlyStudentsWithoutACurrent') }}</Checkbox>
    <Checkbox v-model:checked="voidOlder"> {{ t('places.makeOlderCardsInvalid') }}</Checkbox>
  </div>
</template>
