<script setup lang="ts">
/** Which classes of a bundle are taken over: all, or some, class by class. */
import { t } from '@/words';
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
    <summary>
      {{
        chosen
          ? t('intake.ofClasses', { chosen: chosen.length, classes: classes.length })
          : t('intake.allClasses', { classes: classes.length })
      }}
    </summary>
    <div class="list">
      <div class="row">
        <Button size="small" @click="$emit('choose', null)">{{ t('intake.all') }}</Button>
        <Button size="small" @click="$emit('choose', [])">{{ t('common.none') }}</Button>
      </div>
      <Checkbox v-for="c in classes.slice(0, 500)" :key="c.id" :checked="set.has(c.id)" @change="toggle(c.id)"
        >{{ c.title }}
        <span class="quiet">{{
          [c.school, c.teacher, t('intake.students', { students: c.students })].filter(Boolean).join(' · ')
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
