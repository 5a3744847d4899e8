<script setup lang="ts">
/** What holds a plan, to be released with a reason; and the rows that it leaves out. */
import Fold from '@/kit/Fold.vue';
import { spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import { reactive } from 'vue';
import { RouterLink } from 'vue-router';
import type { PlanSheet } from '../../server/contract';
import { linesOf } from '#core/intake/waiting';
import TextInput from '@/kit/TextInput.vue';

defineProps<{ plan: PlanSheet; isOpen: boolean }>();
defineEmits<{ release: [code: string, reason: string] }>();
const reasons = reactive<Record<string, string>>({});
</script>

<template>
  <section
    class="w-264px flex-none ruled-l overflow-auto py-8px px-12px flex flex-col gap-8px text-13px"
    tabindex="0"
    :aria-label="t('plan.guardsAndReview')"
  >
    <h2>{{ t('plan.guards') }}</h2>
    <p v-if="plan.held.length === 0" class="stem">{{ t('plan.noGuardHoldsThisPlan') }}</p>
    <section
      v-for="h in plan.held"
      :key="h.code"
      class="held bg-rust-wash [border-left:4px_solid_var(--rust)] p-8px grid gap-6px"
      :class="{ released: h.released }"
    >
      <p>
        <b>⚑ {{ h.released ? t('plan.released') : t('plan.assigned') }}</b> {{ h.message }}
      </p>
      <Fold v-if="h.names.length > 0" :label="t('plan.names', { names: h.names.length })">
        <ul class="max-h-180px overflow-auto" tabindex="0">
          <li v-for="name in h.names" :key="name">{{ name }}</li>
        </ul>
      </Fold>
      <p v-if="h.released" class="quiet">“{{ h.released.reason }}”</p>
      <form
        v-else-if="isOpen"
        class="grid gap-4px justify-items-start"
        @submit.prevent="$emit('release', h.code, reasons[h.code] ?? '')"
      >
        <label :for="`why-${h.code}`">{{ t('plan.releaseWithReason') }}</label>
        <TextInput :id="`why-${h.code}`" v-model:value="reasons[h.code]" :placeholder="t('plan.reason')" />
        <Button size="small" html-type="submit">{{ t('plan.release') }}</Button>
      </form>
    </section>
    <h2>{{ plan.intakeId ? t('plan.needsReview') : t('plan.unchanged') }}</h2>
    <p v-if="plan.waiting.length === 0" class="quiet">{{ t('plan.nothing') }}</p>
    <ul class="waiting">
      <li v-for="w in plan.waiting.slice(0, 100)" :key="`${w.line}${w.message}`" class="py-3px px-0 faint-b">
        <RouterLink v-if="w.line > 0 && plan.intakeId" :to="`/imports/${plan.intakeId}?line=${w.line}`">{{
          spoken(linesOf(w))
        }}</RouterLink>
        {{ w.message }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
.held.released {
  background: var(--stem-wash);
  border-color: var(--stem);
}
</style>
