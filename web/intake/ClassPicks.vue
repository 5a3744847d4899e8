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
  <details class="relative">
    <summary>
      {{
        chosen
          ? t('intake.ofClasses', { chosen: chosen.length, classes: classes.length })
          : t('intake.allClasses', { classes: classes.length })
      }}
    </summary>
    <div
      class="list absolute z-5 top-full left-0 grid gap-2px max-h-360px min-w-320px overflow-auto p-8px bg-sheet [border:1px_solid_var(--ink)]"
    >
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
.list :deep(.ant-checkbox-wrapper) {
  margin: 0;
}
</style>
