<script setup lang="ts">
/** Which columns a list shows, in which order; by mouse and by keyboard. */
import { t } from '@/words';
import { Button, Checkbox, Popover } from 'ant-design-vue';
import { ref } from 'vue';
import type { useColumns } from './columns';

defineProps<{ cols: ReturnType<typeof useColumns>; of: string }>();
const open = ref(false);
</script>

<template>
  <Popover v-model:open="open" trigger="click" placement="bottomRight" destroy-tooltip-on-hide>
    <Button
      type="text"
      size="small"
      :aria-label="t('worksheet.columnsOf', { of })"
      :title="t('worksheet.columns')"
      :aria-expanded="open"
      @keydown.esc.stop="open = false"
      ><span aria-hidden="true">⋯</span></Button
    >
    <template #content>
      <ul class="min-w-220px mb-8px" @keydown.esc.stop="open = false">
        <li v-for="(col, i) in cols.all.value" :key="col.key" class="row">
          <Checkbox
            class="grow"
            :checked="cols.isShown(col.key)"
            :disabled="cols.isShown(col.key) && cols.shown.value.length === 1"
            @change="cols.show(col.key, !cols.isShown(col.key))"
            >{{ col.label }}</Checkbox
          >
          <Button
            type="text"
            size="small"
            :disabled="i === 0"
            :aria-label="t('worksheet.moveToTheLeft', { label: col.label })"
            @click="cols.move(col.key, -1)"
            >←</Button
          >
          <Button
            type="text"
            size="small"
            :disabled="i === cols.all.value.length - 1"
            :aria-label="t('worksheet.moveToTheRight', { label: col.label })"
            @click="cols.move(col.key, 1)"
            >→</Button
          >
        </li>
      </ul>
      <Button size="small" :disabled="!cols.isChanged.value" @click="cols.reset()">{{
        t('worksheet.resetColumns')
      }}</Button>
    </template>
  </Popover>
</template>
