<script setup lang="ts">
/** Which classes of a bundle are taken over: all, or some, class by class. */
import { computed } from 'vue';
import { Button, Checkbox } from 'ant-design-vue';

const props = defineProps<{
  classes: { id: string; title: string; school: string; teacher: string; students: number }[];
  chosen: string[] | null;
}>();
const emit = defineEmits<{ choose: [classes: string[] | null] }>();
const set = computed(() => new Set(props.chosen ?? props.classes.map(({ id }) => id)));
function toggle(id: string): void {
  const next = new Set(set.value);
  if (!next.delete(id)) next.add(id);
  emit('choose', next.size === props.classes.length ? null : [...next]);
}
</script>

<template>
  <details class="picks">
    <summary>{{ chosen ? `${chosen.length} of ${classes.length} classes` : `all ${classes.length} classes` }}</summary>
    <div class="list">
      <div class="row">
        <Button size="small" @click="$emit('choose', null)">all</Button>
        <Button size="small" @click="$emit('choose', [])">none</Button>
      </div>
      <Checkbox v-for="c in classes.slice(0, 500)" :key="c.id" :checked="set.has(c.id)" @change="toggle(c.id)"
        >{{ c.title }}
        <span class="quiet">{{
          [c.school, c.teacher, `${c.students} students`].filter(Boolean).join(' · ')
        }}</span></Checkbox
      >
    </div>
  </details>
</template>

<style scoped>
.picks {
  position: relative;
}
.list {
  position: absolute;
  z-index: 5;
  top: 100%;
  left: 0;
  display: grid;
  gap: 2px;
  max-height: 360px;
  min-width: 320px;
  overflow: auto;
  padding: 8px;
  background: var(--sheet);
  border: 1px solid var(--ink);
}
.list :deep(.ant-checkbox-wrapper) {
  margin: 0;
}
</style>
