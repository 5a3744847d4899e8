<script setup lang="ts">
/** How one product stands: over the year, what is short, what a proposal would do, its licenses and rules. */
import { dayWords } from '@/time';
import { t } from '@/words';
import { Button, Checkbox } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { money } from './forms';
import type { Product } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/values';
import LicenseLines from './LicenseLines.vue';
import RuleLines from './RuleLines.vue';
import SeatsOverTime from './SeatsOverTime.vue';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ edit: [product: Product] }>();
const session = useSession();
const work = useWork();
const router = useRouter();
const reload = useAgain();
const idleDays = ref(90);
const sweep = ref(false);
const query = useLoad(t('licenses.theProduct'), 'GET /api/products/:id', () => ({
  id: props.id,
  query: { idleDays: idleDays.value },
}));
const sheet = computed(() => (query.data.value?.product.id === props.id ? query.data.value : null));
const isDistrict = computed(() => session.may('products.keep'));

async function propose(): Promise<void> {
  if (!isDistrict.value || !sheet.value) return;
  try {
    const body = { productIds: [props.id], sweep: sweep.value, idleDays: idleDays.value };
    const { jobId } = await call('POST /api/seats/propose', { body });
    const { planId } = await work.follow(jobId, t('licenses.planningSeats'));
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
useCarryOut(propose);
async function takeOver(): Promise<void> {
  try {
    const { planId } = await call('POST /api/products/:id/take-over', { id: props.id });
    await reload();
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  }
}
const people = (seat: 'holds' | 'lacks' | 'spare') => ({ path: '/people', query: { product: props.id, seat } });
const forGrades = computed(() => {
  const { lowGrade, highGrade } = sheet.value!.product;
  if (lowGrade === null && highGrade === null) return null;
  return t('licenses.gradesTo', {
    lowGrade: lowGrade ? gradeLabel(lowGrade) : '',
    highGrade: highGrade ? gradeLabel(highGrade) : '',
  });
});
const doesNothing = computed(
  () => !sweep.value && sheet.value?.proposal.given === 0 && sheet.value.proposal.taken === 0,
);
</script>

<template>
  <section
    v-if="sheet"
    class="panel py-12px px-16px grid [grid-template-columns:minmax(0,1fr)] gap-12px content-start"
    :aria-label="t('licenses.product')"
  >
    <header>
      <div class="row">
        <h2 class="grow title">{{ sheet.row.label }}</h2>
        <Button v-if="isDistrict" size="small" @click="emit('edit', sheet.product)">
          {{ t('licenses.editProduct') }}
        </Button>
      </div>
      <p class="quiet">
        {{ [sheet.product.publisher, sheet.product.subject, forGrades].filter(Boolean).join(' · ') }}
        <span v-if="sheet.row.supersededBy" class="rust">
          {{ t('licenses.replacedBy', { label: sheet.row.supersededBy.label }) }}</span
        >
      </p>
    </header>
    <SeatsOverTime :sheet="sheet" />
    <div class="grid gap-4px">
      <p>
        {{ t('licenses.whenSchoolOpens') }}
        <RouterLink :to="people('holds')">{{ t('licenses.seatsAssigned', { held: sheet.row.held }) }}</RouterLink>,
        <RouterLink v-if="sheet.row.lacking > 0" class="rust" :to="people('lacks')">{{
          t('licenses.ofEntitledHaveNoSeat', { lacking: sheet.row.lacking, needed: sheet.row.needed })
        }}</RouterLink><template v-else>{{ t('licenses.allEntitledHaveASeat', { needed: sheet.row.needed }) }}</template
        >.
      </p>
      <p v-if="sheet.row.short" class="rust">
        <b>{{
          t('licenses.seatsShortFrom', { count: sheet.row.short.count, from: dayWords(sheet.row.short.from) })
        }}</b>
      </p>
      <p v-if="sheet.row.over" class="rust">
        <b>{{ t('licenses.moreAssignedThanTheLicense', { over: sheet.row.over }) }}</b>
        {{ t('licenses.allSeatsAreInUse') }}
      </p>
      <p v-if="sheet.spare.notEntitled + sheet.spare.stopped + sheet.spare.idle > 0">
        {{ t('licenses.canBeTakenBack') }}
        <RouterLink v-if="sheet.spare.notEntitled + sheet.spare.stopped" :to="people('spare')">{{
          t('licenses.fromPeopleWhoAreNot', { stopped: sheet.spare.notEntitled + sheet.spare.stopped })
        }}</RouterLink><template v-if="sheet.spare.stopped">{{
          t('licenses.ofThemSuspended', { stopped: sheet.spare.stopped })
        }}</template
        >{{
          t('licenses.entitledStudentsDidNotUse', {
            stopped: sheet.spare.notEntitled + sheet.spare.stopped ? '; ' : '',
            idle: sheet.spare.idle,
          })
        }}
        <label class="quiet">
          {{ t('licenses.inTheLast') }} <NumberInput v-model:value.lazy="idleDays" class="w-60px" :min="7" :max="400" />
          {{ t('licenses.days') }}</label
        >
      </p>
      <p v-if="sheet.partial.length > 0" class="rust">
        {{
          t('licenses.fewerAreEntitledThanIn', {
            students: sheet.partial
              .slice(0, 6)
              .map((c) => `${c.name} ${c.school} (${c.missing} of ${c.students})`)
              .join(', '),
            classes:
              sheet.partial.length > 6 ? ` ${t('licenses.andMoreClasses', { partial: sheet.partial.length - 6 })}` : '',
          })
        }}
      </p>
      <p v-if="sheet.olderEdition && sheet.olderEdition.rules + sheet.olderEdition.held > 0" class="row">
        <span class="rust">{{
          t('licenses.isStillInUseSeats', {
            label: sheet.olderEdition.label,
            rules: sheet.olderEdition.rules,
            held: sheet.olderEdition.held,
          })
        }}</span>
        <Button v-if="isDistrict && sheet.olderEdition.rules > 0" size="small" @click="takeOver">{{
          t('licenses.moveItsRulesHere')
        }}</Button>
      </p>
    </div>
    <div v-if="isDistrict" class="propose flex flex-wrap items-center gap-y-8px gap-x-16px py-8px px-12px ruled bg-fog">
      <p class="grow [flex-basis:260px]">
        <template v-if="doesNothing">{{ t('licenses.seatsAreAlreadyAssignedAs') }}</template>
        <template v-else>{{
          t('licenses.theProposalAssignsSeatsAnd', { given: sheet.proposal.given, taken: sheet.proposal.taken })
        }}</template>{{ ' '
        }}<span v-if="sheet.proposal.unmet" class="rust">
          {{
            t('licenses.stayWithoutOneFrom', {
              count: sheet.proposal.unmet.count,
              from: dayWords(sheet.proposal.unmet.from),
              count2:
                sheet.proposal.unmet.schools.length > 0
                  ? `: ${sheet.proposal.unmet.schools.map((s) => `${s.name} ${s.count}`).join(', ')}`
                  : '',
            })
          }}
          <template v-if="sheet.proposal.buyCents">{{
            t('licenses.toBuyThemAtThe', { buyCents: money(sheet.proposal.buyCents) })
          }}</template>
        </span>
      </p>
      <Checkbox v-model:checked="sweep" class="quiet"> {{ t('licenses.alsoTakeBackSeatsThat') }}</Checkbox>
      <Button type="primary" :disabled="doesNothing" @click="propose"
        ><span
          >{{ t('licenses.assignSeats') }} <kbd>{{ t('licenses.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
    <LicenseLines :key="`l${id}`" :sheet="sheet" />
    <RuleLines :key="`r${id}`" :sheet="sheet" />
  </section>
</template>

<style scoped>
.panel :deep(table) {
  width: 100%;
}
</style>
