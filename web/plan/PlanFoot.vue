<script setup lang="ts">
/** What a plan will do or did, in words, and what can be done with it: apply it, undo it, go on with who is new by it. */
import { locale, t } from '@/words';
import { Button, Checkbox } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import type { PlanSheet } from '../../server/contract';
import { useCarryOut } from '@/frame/keys';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';

const props = defineProps<{ plan: PlanSheet; isOpen: boolean; busy: boolean; held: boolean; mayApply: boolean }>();
const emit = defineEmits<{ apply: []; discard: []; undo: [oldPasswords: boolean] }>();
const route = useRoute();
const router = useRouter();
const sheaf = useSheaf();
const work = useWork();
const waits = computed(() => props.plan.waiting.reduce((sum, { rows = 1 }) => sum + rows, 0));
/** Whether undoing would bring back passwords that somebody may know by now. */
const changesPasswords = computed(() =>
  props.plan.total.kinds.some(({ op, fields }) => op === 'update' && fields.includes('secretSealed')),
);
const oldPasswords = ref(false);
/** Who is new by it needs a card. */
const isNewPeople = computed(
  () =>
    props.plan.status === 'applied' &&
    props.plan.total.kinds.some(({ kind: one }) => one === 'person.create' || one === 'account.create'),
);
/** After provisioning the same people are gathered still. */
const isProvisioned = computed(() => props.plan.status === 'applied' && props.plan.kind === 'ready');
const offersCards = computed(() => isNewPeople.value || isProvisioned.value);
const printCards = () =>
  router.push({ path: '/handouts', query: isProvisioned.value ? { sheaf: '1' } : { plan: props.plan.id } });
/** The sheet of Provision says what they lack and plans it. */
async function provision(): Promise<void> {
  try {
    await sheaf.gatherAll({ plan: props.plan.id });
    await router.push({ path: '/people', query: { plan: props.plan.id, verb: 'ready' } });
  } catch (error) {
    work.wrong(error);
  }
}
useCarryOut(() => (offersCards.value ? printCards() : emit('apply')));
</script>

<template>
  <footer class="row py-8px px-16px ruled-t bg-sheet">
    <p class="grow">
      {{ plan.status === 'applied' ? t('plan.applied2', { sentence: plan.sentence }) : plan.sentence
      }}{{
        waits > 0
          ? plan.intakeId
            ? ` ${t('plan.review', { waits: t('plan.rowsNeed', { n: waits }) })}`
            : ` ${t('plan.stayAsTheyAre', { waits: waits.toLocaleString(locale) })}`
          : ''
      }}
    </p>
    <template v-if="isOpen">
      <span v-if="held" class="rust">{{ t('plan.aGuardHoldsThisPlan') }}</span>
      <Button @click="emit('discard')">{{ t('plan.discard') }}</Button>
      <Button type="primary" :loading="busy" :disabled="!mayApply" @click="emit('apply')"
        ><span
          >{{ t('plan.apply', { total: t('common.countChanges', { n: plan.remaining.total }) }) }}
          <kbd>{{ t('plan.ctrlEnter') }}</kbd></span
        ></Button
      >
    </template>
    <RouterLink v-if="plan.status === 'applied' && route.query.class" :to="`/classes/${String(route.query.class)}`">{{
      t('plan.backToTheClass')
    }}</RouterLink>
    <template v-if="offersCards">
      <Button v-if="isNewPeople" @click="router.push({ path: '/people', query: { plan: plan.id } })">{{
        t('plan.viewNewPeople')
      }}</Button>
      <Button v-if="isNewPeople" @click="provision">{{ t('frame.provision') }}</Button>
      <Button type="primary" @click="printCards"
        ><span
          >{{ t('plan.printTheirCards') }} <kbd>{{ t('plan.ctrlEnter') }}</kbd></span
        ></Button
      >
    </template>
    <template v-if="plan.status === 'applied' && plan.kind !== 'setup'">
      <Checkbox v-if="changesPasswords" v-model:checked="oldPasswords">{{
        t('plan.restoreTheOldPasswordsOtherwise')
      }}</Checkbox>
      <Button @click="emit('undo', oldPasswords)">{{
        t('plan.undo', { total: t('common.countChanges', { n: plan.remaining.total }) })
      }}</Button>
    </template>
  </footer>
</template>

<style scoped>
footer kbd {
  color: inherit;
  margin-left: 6px;
}
</style>
