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
  <nav
    class="kinds w-232px flex-none ruled-r overflow-y-auto py-8px px-0 text-13px"
    :aria-label="t('plan.kindsOfChange')"
  >
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
        <span class="flex items-baseline"
          ><i class="flex-none w-9px h-9px mr-6px [border:1.5px_solid_currentColor]" aria-hidden="true" />{{
            spoken(kindWords(k))
          }}</span
        ><b>{{ k.count.toLocaleString(locale) }}</b>
      </Button>
      <Button
        v-if="isOpen && kind === k.kind"
        size="small"
        class="small w-auto h-24px mt-2px mb-4px ml-27px mr-0 text-12px"
        @click="$emit('take', k.kind)"
      >
        {{ isOut(k.kind) ? t('plan.putTheseBack') : t('plan.takeTheseOut') }}
      </Button>
    </div>
    <ExportLine class="py-8px px-12px" list="changes" :filter="{ plan: plan.id, kind }" />
  </nav>
</template>

<style scoped>
.kinds button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  width: 100%;
  height: auto;
  min-height: 28px;
  padding: 2px 12px;
  white-space: normal;
  text-align: left;
}
.kinds button:hover {
  background: var(--fog);
}
.kinds button.chosen {
  background: var(--ink);
  color: var(--paper);
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
.kinds button.out {
  text-decoration: line-through;
}
</style>
