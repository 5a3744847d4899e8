<script setup lang="ts">
/** The kinds of change of a plan with their counts: one is chosen to be shown alone, and can be taken out as a whole. */
import { locale, spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import type { PlanSheet } from '../../server/contract';
import { kindWords } from '#core/register/words';
import ExportLine from '@/worksheet/ExportLine.vue';

const props = defineProps<{ plan: PlanSheet; isOpen: boolean }>();
defineEmits<{ take: [kind: string] }>();
const kind = defineModel<string | null>('kind', { required: true });
const isOut = (of: string) => props.plan.takenOut.kinds?.includes(of) ?? false;
</script>

<template>
  <nav class="kinds" :aria-label="t('plan.kindsOfChange')">
    <Button
      type="text"
      size="small"
      :class="{ chosen: kind === null }"
      :aria-pressed="kind === null"
      @click="kind = null"
    >
      <span>{{ t('plan.allChanges') }}</span><b>{{ plan.total.total.toLocaleString(locale) }}</b>
    </Button>
    <div v-for="k in plan.total.kinds" :key="k.kind" class="kind" :class="k.op">
      <Button
        type="text"
        size="small"
        :class="{ chosen: kind === k.kind, out: isOut(k.kind) }"
        :aria-pressed="kind === k.kind"
        @click="kind = k.kind"
      >
        <span><i aria-hidden="true" />{{ spoken(kindWords(k)) }}</span
        ><b>{{ k.count.toLocaleString(locale) }}</b>
      </Button>
      <Button v-if="isOpen && kind === k.kind" size="small" class="small" @click="$emit('take', k.kind)">
        {{ isOut(k.kind) ? t('plan.putTheseBack') : t('plan.takeTheseOut') }}
      </Button>
    </div>
    <ExportLine class="export-line" list="changes" :filter="{ plan: plan.id, kind }" />
  </nav>
</template>

<style scoped>
.export-line {
  padding: 8px 12px;
}
.kinds {
  width: 232px;
  flex: none;
  border-right: 1px solid var(--rule);
  overflow: auto;
  padding: 8px 0;
  font-size: 13px;
}
.kinds button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  width: 100%;
  height: 28px;
  padding: 0 12px;
}
.kinds button:hover {
  background: var(--fog);
}
.kinds button.chosen {
  background: var(--ink);
  color: var(--paper);
}
.kinds i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
  border: 1.5px solid currentColor;
}
.create i {
  background: var(--stem);
}
.end i,
.purge i {
  background: var(--rust);
  transform: rotate(45deg);
}
.update i {
  background: linear-gradient(90deg, transparent 50%, var(--dusk) 50%);
}
.kinds .small {
  width: auto;
  height: 24px;
  margin: 2px 0 4px 27px;
  font-size: 12px;
}
.kinds button.out {
  text-decoration: line-through;
}
</style>
