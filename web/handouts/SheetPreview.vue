<script setup lang="ts">
/** The first sheet as it will be printed, both sides, also in its true size. */
import { useLocalStorage } from '@vueuse/core';
import { Button, Checkbox, Slider } from 'ant-design-vue';
import { computed, ref } from 'vue';
import type { PrintPreview } from '../../server/contract';
import { hasPieces, isCard } from '#core/cards/index';
import { t } from '@/words';
import { usePrintForm } from './form';
import SheetView from './SheetView.vue';

const props = defineProps<{ shown: PrintPreview | null }>();
const form = usePrintForm();
/** Which side of the first sheet is looked at. */
const side = ref(0);
const sheetShown = computed(() => props.shown?.sheets[Math.min(side.value, props.shown.sheets.length - 1)] ?? null);
const hasBack = computed(
  () => form.value.backs !== '' && (form.value.layout === 'cards' || form.value.layout === 'badges'),
);
/** Pixels to a millimeter of this screen, told by a person who laid a ruler on it; 96 to an inch without that. */
const scale = useLocalStorage('true-size', 96 / 25.4);
const actual = ref(false);
const stacks = computed(() => {
  const { shown } = props;
  const isStacked =
    shown && form.value.stacked && isCard(form.value.layout) && hasPieces(form.value.layout) && shown.stacks.length > 1;
  return isStacked && shown.pages > (hasBack.value ? 2 : 1) ? shown.stacks.slice(0, 3).join(' / ') : null;
});
</script>

<template>
  <div class="row flex-none py-4px px-16px gap-16px text-13px flex-wrap">
    <Button v-if="hasBack" size="small" @click="side = side === 0 ? 1 : 0">
      {{ side === 0 ? t('places.showTheBack') : t('places.showTheFront') }}
    </Button>
    <Checkbox v-model:checked="actual"> {{ t('places.trueSize') }}</Checkbox>
    <label v-if="actual" class="scale quiet flex items-center gap-8px"
      >{{ t('places.thisLineIs100Mm') }}
      <Slider
        v-model:value="scale"
        class="slider"
        :min="2"
        :max="9"
        :step="0.01"
        :tooltip-open="false"
        :aria-label="t('places.pixelsPerMillimeter')" />
      <i
        class="block h-8px [border:solid_var(--ink)] [border-width:0_1px_1px]"
        :style="{ width: `${100 * scale}px` }"
        aria-hidden="true"
    /></label>
    <span class="grow" />
    <span v-if="stacks" class="quiet clip">{{ t('places.stacksBeginWith', { slice: stacks }) }}</span>
  </div>
  <div
    class="preview flex-1 min-h-0 p-16px flex justify-center bg-fog"
    :class="{ actual }"
    tabindex="0"
    role="region"
    :aria-label="t('places.preview')"
  >
    <SheetView
      v-if="sheetShown"
      :paper="form.paper"
      :items="sheetShown.items"
      :actual="actual ? scale : null"
      :label="t('places.previewOfTheFirstSheet', { paper: form.paper, of: sheetShown.of.length, cards: shown!.cards })"
    />
  </div>
</template>

<style scoped>
.preview.actual {
  overflow: auto;
  display: block;
}
</style>
