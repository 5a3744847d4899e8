<script setup lang="ts">
/** The classes side by side with who is in each: a student is dragged from one to another. A number key does the same to the one with the focus. */
import { t } from '@/words';
import { computed } from 'vue';
import { type DraggableEvent, VueDraggable } from 'vue-draggable-plus';
import type { SplitChild } from '../../server/contract';
import type { Sections } from './sections';

const props = defineProps<{ sections: Sections }>();
const emit = defineEmits<{ focus: [id: string] }>();
const { split, children, put, levelOf, supportOf } = props.sections;
/** The first: those who have no class yet. */
const columns = computed(() =>
  [null, ...split.classes.keys()].map((room) => ({
    room,
    name: room === null ? t('year.noneYet') : split.classes[room]!.name,
    list: children.value.filter(({ id }) => (split.placed[id] ?? null) === room),
  })),
);
const facts = (child: SplitChild) =>
  [
    levelOf(child),
    child.language,
    supportOf(child) === 'support' ? t('year.support') : null,
    child.twins.length > 0 ? t('year.twin') : null,
  ]
    .filter(Boolean)
    .join(' · ');
function arrived(event: DraggableEvent<SplitChild>, room: number | null): void {
  if (event.data) put(event.data.id, room);
}
</script>

<template>
  <div class="columns flex gap-8px p-12px overflow-auto min-h-0">
    <section
      v-for="column in columns"
      :key="column.room ?? -1"
      class="flex flex-col min-w-150px [flex:1_1_150px] min-h-0 bg-sheet ruled"
      :aria-label="column.name"
    >
      <h2 class="px-8px py-4px ruled-b flex gap-8px">
        <span class="clip grow">{{ column.name }}</span> <span class="quiet">{{ column.list.length }}</span>
      </h2>
      <VueDraggable
        :model-value="column.list"
        group="students"
        tag="ul"
        :sort="false"
        :animation="120"
        :force-fallback="true"
        class="flex-1 min-h-80px overflow-auto p-4px"
        @add="(event) => arrived(event as DraggableEvent<SplitChild>, column.room)"
      >
        <li
          v-for="child in column.list"
          :key="child.id"
          class="child px-6px py-4px faint-b text-13px"
          :class="{ fixed: split.fixed.includes(child.id) }"
          tabindex="0"
          @focus="emit('focus', child.id)"
        >
          <span class="clip block">{{ child.familyName }}, {{ child.givenName }}</span>
          <span class="quiet text-12px clip block">{{ facts(child) }}</span>
        </li>
      </VueDraggable>
    </section>
  </div>
</template>

<style scoped>
.child {
  cursor: grab;
}
.child.fixed {
  box-shadow: inset 3px 0 0 var(--straw);
}
</style>
