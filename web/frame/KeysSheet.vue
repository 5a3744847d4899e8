<script setup lang="ts">
import { Button } from 'ant-design-vue';
import { onMounted, ref } from 'vue';

defineEmits<{ close: [] }>();
const box = ref<HTMLElement | null>(null);
onMounted(() => box.value?.focus());
const keys: [string, string][] = [
  ['/', 'find'],
  ['Alt+1 … Alt+9', 'places'],
  ['↑ ↓ Home End PgUp PgDn', 'move in a list'],
  ['Space', 'gather or let go; in a plan, take out or put back'],
  ['Shift+Space', 'gather to here'],
  ['Ctrl+A', 'gather all that the filters show'],
  ['Enter', 'open; in the intake, edit the cell'],
  ['Esc', 'back'],
  ['Ctrl+Enter', 'plan, apply, print'],
  ['Alt+↓ Alt+↑', 'next and previous problem in the intake'],
  ['Alt+Enter', 'take the proposed repair'],
  ['Alt+Delete', 'leave the row out, or back in'],
  ['S D L U', 'pairs: same, different, later, take back'],
  ['?', 'these keys'],
];
</script>

<template>
  <aside ref="box" class="keys" role="dialog" aria-label="Keys" tabindex="-1" @keydown.esc="$emit('close')">
    <h2>Keys</h2>
    <dl>
      <template v-for="[key, what] in keys" :key="key"
        ><dt>
          <kbd>{{ key }}</kbd>
        </dt>
        <dd>{{ what }}</dd></template
      >
    </dl>
    <Button type="text" size="small" @click="$emit('close')">close</Button>
  </aside>
</template>

<style scoped>
.keys {
  position: fixed;
  right: 16px;
  top: 130px;
  z-index: 20;
  background: var(--sheet);
  border: 2px solid var(--ink);
  padding: 16px;
}
dl {
  display: grid;
  grid-template-columns: max-content auto;
  gap: 6px 16px;
  margin: 12px 0;
}
</style>
