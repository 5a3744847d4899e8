<script setup lang="ts">
/**
 * A value that is corrected where it stands. Enter or leaving the field saves what differs; Esc brings the value back.
 * `save` gets the trimmed text, null for none; when it is through, the field shows the value that it then has, unless
 * `save` answers false: what was typed stays to be corrected.
 */
import { Input } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';

const props = defineProps<{
  value: string | number | null | undefined;
  save: (after: string | null) => unknown;
  readonly?: boolean;
  maxlength?: number;
  placeholder?: string;
}>();
const known = computed(() => String(props.value ?? ''));
const text = ref(known.value);
watch(known, (now) => (text.value = now));
const isSaving = ref(false);
async function done(): Promise<void> {
  const after = text.value.trim();
  if (after === known.value || isSaving.value) return;
  isSaving.value = true;
  const kept = await Promise.resolve(props.save(after || null)).finally(() => (isSaving.value = false));
  if (kept !== false) text.value = known.value;
}
function back(event: KeyboardEvent): void {
  if (text.value === known.value) return;
  event.stopPropagation();
  text.value = known.value;
}
</script>

<template>
  <Input
    v-model:value="text"
    size="small"
    class="in-place [padding-inline:2px] [border-bottom:1px_solid_transparent] rd-0"
    :bordered="false"
    :readonly="readonly"
    :maxlength="maxlength"
    :placeholder="placeholder ?? '—'"
    @blur="done"
    @keydown.enter="($event.target as HTMLInputElement).blur()"
    @keydown.esc="back"
  />
</template>

<style scoped>
.in-place:not([readonly]):hover {
  border-bottom-color: var(--rule);
}
</style>
