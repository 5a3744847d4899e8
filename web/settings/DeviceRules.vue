<script setup lang="ts">
/** Which grades have one device for everyone, and after how many years a device is replaced. */
import { t } from '@/words';
import NumberInput from '@/kit/NumberInput.vue';
import { Checkbox } from 'ant-design-vue';
import { computed } from 'vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';
import { gradeLabel, grades } from '#core/tabular/values';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const mayChange = computed(() => session.may('settings.change'));
/** Grades that some school has. */
const there = computed(() => {
  const rank = (grade: string) => (grades as readonly string[]).indexOf(grade);
  return grades.filter((grade) =>
    props.state.schools.some(
      ({ lowGrade, highGrade }) => rank(lowGrade) <= rank(grade) && rank(grade) <= rank(highGrade),
    ),
  );
});
const { keep } = useKeep(() => emit('changed'));
function toggle(grade: string): void {
  const { oneToOne } = props.state.settings;
  const has = oneToOne.includes(grade);
  const next = grades.filter((one) => (one === grade ? !has : oneToOne.includes(one)));
  void keep(
    { oneToOne: next },
    t('district.grade', {
      grade: gradeLabel(grade),
      everyone: has ? t('district.nowSharesDevicesFromCarts') : t('district.nowHasOneDeviceFor'),
    }),
  );
}
function years(count: number | '' | null): void {
  if (!count) return;
  void keep({ deviceYears: count }, t('district.devicesAreReplacedAfterYears', { deviceYears: count }));
}
</script>

<template>
  <section class="grid gap-8px content-start">
    <h1>{{ t('district.devices') }}</h1>
    <fieldset class="[border:0] m-0 p-0 flex flex-wrap gap-y-4px gap-x-14px" :disabled="!mayChange">
      <legend>{{ t('district.everyStudentHasADevice') }}</legend>
      <Checkbox v-for="g in there" :key="g" :checked="state.settings.oneToOne.includes(g)" @change="toggle(g)">
        {{ gradeLabel(g) }}</Checkbox
      >
    </fieldset>
    <p>
      <label
        >{{ t('district.replaceAfter') }}
        <NumberInput
          lazy
          :min="1"
          :max="15"
          :value="state.settings.deviceYears"
          :disabled="!mayChange"
          @update:value="years"
        />
        {{ t('district.years') }}</label
      >
      <span class="quiet">{{ t('district.orWhenTheirUpdatesEnd') }}</span>
    </p>
  </section>
</template>

<style scoped>
legend {
  padding: 0;
  margin-bottom: 4px;
}
.box {
  width: 64px;
}
</style>
