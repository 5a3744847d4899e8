<script setup lang="ts">
/** One verb on the sheaf: what it needs to know, and beside it at once what would happen. Ends in a plan. */
import Fold from '@/kit/Fold.vue';
import { locale, t } from '@/words';
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useCarryOut } from '@/frame/keys';
import { call } from '@/api';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { onShown, useLoad } from '@/kit/load';
import { emptyForm, orderOf, type VerbKind } from './verb';
import VerbFields from './VerbFields.vue';

const props = defineProps<{ what: VerbKind }>();
const emit = defineEmits<{ close: [] }>();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();

const form = ref(emptyForm());
watch(
  () => form.value.schoolId,
  () => {
    if (props.what === 'move') form.value.classId = null;
  },
);
const order = computed(() => orderOf(props.what, form.value));
const asked = refDebounced(order, 150);
const preview = useLoad(t('frame.thePreview'), 'POST /api/sheaf/preview', () => ({ body: asked.value! }), {
  also: computed(() => sheaf.state.count),
  enabled: () => asked.value !== null,
  alone: true,
  retry: false,
});
const shown = computed(() => (order.value === null ? null : (preview.data.value ?? null)));
const titles = {
  ready: t('frame.provision'),
  enroll: t('frame.enroll'),
  group: t('frame.group'),
  move: t('frame.transfer'),
  hold: t('frame.suspend'),
  leave: t('frame.withdraw'),
  seats: t('frame.seats'),
  devices: t('frame.devices'),
};
const busy = ref(false);

async function plan(): Promise<void> {
  if (!order.value || busy.value || !shown.value?.changes) return;
  busy.value = true;
  try {
    const { jobId } = await call('POST /api/sheaf/plan', { body: order.value });
    const { planId } = await work.follow(jobId, t('frame.planning'));
    emit('close');
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    busy.value = false;
  }
}
const box = ref<HTMLElement | null>(null);
/** A new group is made more often than people are put into one that is there. */
const first = () =>
  box.value
    ?.querySelector<HTMLElement>(props.what === 'group' ? 'form input' : 'input, select, button.ant-btn')
    ?.focus();
onShown(first);
watch(
  () => props.what,
  () => setTimeout(first),
);
useCarryOut(plan, { first: true });
</script>

<template>
  <section
    ref="box"
    class="verb ordering [border-top:2px_solid_var(--ink)]"
    :aria-label="titles[what]"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="ask row">
      <h2>{{ titles[what] }} {{ sheaf.state.count.toLocaleString(locale) }}</h2>
      <VerbFields v-model="form" :what="what" />
      <span class="grow" />
      <Button type="text" size="small" @click="$emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('frame.esc') }}</kbd></span
        ></Button
      >
    </div>
    <div class="then row" aria-live="polite">
      <p class="grow">
        <template v-if="preview.error.value && order">{{ preview.error.value.message }}</template>
        <template v-else-if="!shown"
          ><span class="quiet">{{ t('frame.chooseWhereToThePreview') }}</span></template
        >
        <template v-else>
          <b>{{ shown.sentence }}</b>
          <span v-if="shown.same > 0" class="quiet">
            {{ t('frame.unchanged', { same: shown.same.toLocaleString(locale) }) }}</span
          >
          <span v-for="h in shown.held" :key="h.code" class="rust">
            {{ t('frame.aGuardWillHoldThis', { message: h.message }) }}</span
          >
        </template>
      </p>
      <Button type="primary" :disabled="!shown?.changes || busy" @click="plan"
        ><span
          >{{ t('frame.plan', { changes: t('common.countChanges', { n: shown?.changes ?? 0 }) }) }}
          <kbd>{{ t('frame.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
    <Fold
      v-if="shown && shown.problems.length > 0"
      class="rust mt-6px text-13px"
      :open="shown.problems.length < 4"
      :label="t('frame.cannotBeChangedAndStay', { problems: shown.problems.length })"
    >
      <ul class="max-h-96px overflow-auto" tabindex="0">
        <li v-for="p in shown.problems" :key="p.label + p.message">
          <b>{{ p.label }}</b> {{ p.message }}
        </li>
      </ul>
    </Fold>
  </section>
</template>
