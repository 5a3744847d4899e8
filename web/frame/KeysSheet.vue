<script setup lang="ts">
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { onMounted, ref } from 'vue';

defineEmits<{ close: [] }>();
const box = ref<HTMLElement | null>(null);
onMounted(() => box.value?.focus());
const keys: [string, string][] = [
  ['/', t('frame.find')],
  ['Alt+1 … Alt+9', t('frame.places')],
  ['↑ ↓ Home End PgUp PgDn', t('frame.moveInAList')],
  ['Space', t('frame.gatherOrRemoveInA')],
  ['Shift+Space', t('frame.gatherUpToHere')],
  ['Ctrl+A', t('frame.gatherAllThatTheFilters')],
  ['Enter', t('frame.openInAnImportEdit')],
  ['Esc', t('frame.returned')],
  ['Ctrl+Enter', t('frame.planApplyPrint')],
  ['Alt+↓ Alt+↑', t('frame.nextAndPreviousProblemIn')],
  ['Alt+Enter', t('frame.useTheProposedFix')],
  ['Alt+Delete', t('frame.skipTheRowOrUse')],
  ['S D L U', t('frame.matchesSameDifferentLaterUndo')],
  ['?', t('frame.theseKeys')],
];
</script>

<template>
  <aside ref="box" class="keys" role="dialog" :aria-label="t('frame.keys')" tabindex="-1" @keydown.esc="$emit('close')">
    <h2>{{ t('frame.keys') }}</h2>
    <dl>
      <template v-for="[key, what] in keys" :key="key"
        ><dt>
          <kbd>{{ key }}</kbd>
        </dt>
        <dd>{{ what }}</dd></template
      >
    </dl>
    <Button type="text" size="small" @click="$emit('close')">{{ t('frame.close') }}</Button>
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
