<script setup lang="ts">
/** One change of a plan, whole: every field before and after, why, and where it came from. */
import { spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { School } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { valueWords } from './values';
import { kindWords, shownFields } from '#core/register/words';

const props = defineProps<{ change: Change & { out: boolean }; schools: readonly School[]; mayTakeOut: boolean }>();
defineEmits<{ takeOut: []; close: [] }>();
const kind = computed(() => {
  const { entity, op, after } = props.change;
  return spoken(kindWords({ entity, op, fields: op === 'update' ? Object.keys(after) : [] }));
});
</script>

<template>
  <section
    class="change flex flex-col gap-8px items-start"
    :aria-label="t('plan.theChange')"
    @keydown.esc="$emit('close')"
  >
    <header class="row w-full">
      <h2 class="grow text-16px c-ink break-anywhere">{{ change.label }}</h2>
      <Button type="text" size="small" :aria-label="t('plan.closeTheChange')" @click="$emit('close')">{{
        t('plan.esc')
      }}</Button>
    </header>
    <p>{{ kind }}</p>
    <p class="quiet">
      {{ change.reason }}<template v-if="change.origin"> {{ t('plan.line', { line: change.origin.line }) }}</template>
    </p>
    <dl class="grid [grid-template-columns:auto_1fr] gap-y-2px gap-x-12px text-13px">
      <template v-for="f in shownFields(change, schools)" :key="f.field">
        <dt class="c-quiet">{{ spoken(f.field) }}</dt>
        <dd class="break-anywhere">
          <template v-if="change.op !== 'create' && f.hasBefore"
            ><del>{{ valueWords(f.isDay, f.before) }}</del
            ><template v-if="change.op !== 'purge'"> → </template></template
          ><ins v-if="change.op !== 'purge' && f.hasAfter">{{ valueWords(f.isDay, f.after) }}</ins>
        </dd>
      </template>
    </dl>
    <Button v-if="mayTakeOut" size="small" @click="$emit('takeOut')">{{
      change.out ? t('plan.putBack') : t('plan.takeOut')
    }}</Button>
    <p v-if="mayTakeOut" class="quiet">{{ t('plan.everythingThisPlanDoesFor') }}</p>
  </section>
</template>

<style scoped>
ins {
  text-decoration: none;
  font-weight: 650;
}
</style>
