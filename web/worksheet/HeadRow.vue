<script setup lang="ts">
/** The headings of a list: they sort it, and their edges are dragged to make a column wider. */
import { Button } from 'ant-design-vue';
import { t } from '@/words';
import type { Col } from './columns';
import type { Sorted } from './sorting';

defineProps<{
  columns: Col[];
  sorted: (key: string) => Sorted | null;
  gatherable: boolean;
  resizable: boolean;
}>();
const emit = defineEmits<{
  sort: [col: Col, more: boolean];
  resize: [key: string, event: MouseEvent | TouchEvent, width: number];
}>();

function grip(key: string, event: MouseEvent | TouchEvent): void {
  const cell = (event.target as HTMLElement).closest<HTMLElement>('[role=columnheader]');
  if (cell) emit('resize', key, event, cell.offsetWidth);
}
const ordered = (now: Sorted | null) => (now?.place === 0 ? (now.desc ? 'descending' : 'ascending') : undefined);
const mark = ({ place, desc }: Sorted) => `${place > 0 ? place + 1 : ''}${desc ? '↑' : '↓'}`;
</script>

<template>
  <div class="head sticky top-0 z-2 h-28px bg-fog c-quiet ruled-b" role="row" aria-rowindex="1">
    <span v-if="gatherable" role="columnheader"
      ><span class="sr">{{ t('worksheet.gathered') }}</span></span
    >
    <span
      v-for="col in columns"
      :key="col.key"
      role="columnheader"
      class="clip col"
      :class="{ 'text-right': col.align }"
      :aria-sort="ordered(sorted(col.key))"
    >
      <Button
        v-if="col.sortable || col.by"
        type="text"
        size="small"
        class="flush"
        tabindex="-1"
        :title="t('worksheet.shiftSortsBySeveral')"
        @click="emit('sort', col, ($event as MouseEvent).shiftKey)"
      >
        <span
          >{{ col.label
          }}<span v-if="sorted(col.key)" aria-hidden="true">{{ ' ' }}{{ mark(sorted(col.key)!) }}</span></span
        >
      </Button>
      <template v-else-if="col.label">{{ col.label }}</template>
      <span v-else class="sr">{{ t('worksheet.actions') }}</span>
      <i
        v-if="resizable"
        class="absolute [inset:0_-2px_0_auto] w-7px [cursor:col-resize] ruled-r"
        aria-hidden="true"
        @mousedown.stop.prevent="grip(col.key, $event)"
        @touchstart.stop="grip(col.key, $event)"
        @click.stop
      />
    </span>
  </div>
</template>

<style scoped>
.head,
.col {
  font-size: 13px;
}
.col {
  position: relative;
}
.col .ant-btn {
  font-size: inherit;
  color: inherit;
}
</style>
