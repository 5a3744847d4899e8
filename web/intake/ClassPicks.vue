<script setup lang="ts">
/** Which classes of a bundle are taken over: all, or some, class by class. */
import { t } from '@/words';
import { computed, ref } from 'vue';
import { Button, Checkbox, Popover } from 'ant-design-vue';

const props = defineProps<{
  classes: { id: string; title: string; school: string; teacher: string; students: number }[];
  chosen: string[] | null;
}>();
const emit = defineEmits<{ choose: [classes: string[] | null] }>();
const open = ref(false);
const set = computed(() => new Set(props.chosen ?? props.classes.map(({ id }) => id)));
function toggle(id: string): void {
  const next = new Set(set.value);
  if (!next.delete(id)) next.add(id);
  emit('choose', next.size === props.classes.length ? null : [...next]);
}
</script>

<template>
  <Popover
    v-model:open="open"
    trigger="click"
    placement="bottomLeft"
    :get-popup-container="(button: HTMLElement) => button.parentElement!"
  >
    <Button size="small" :aria-expanded="open" @keydown.esc="open = false">{{
      chosen
        ? t('intake.ofClasses', { chosen: chosen.length, classes: classes.length })
        : t('intake.allClasses', { classes: classes.length })
    }}</Button>
    <template #content
      ><div class="list grid gap-2px max-h-360px min-w-320px overflow-auto" @keydown.esc.stop="open = false">
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
      </div></template
    >
  </Popover>
</template>

<style scoped>
.list :deep(.ant-checkbox-wrapper) {
  margin: 0;
}
</style>
