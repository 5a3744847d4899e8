<script setup lang="ts">
/** What a verb on the gathered needs to know. */
import { SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { gradeLabel, grades } from '#core/tabular/values';
import ClassPicker from '@/classes/ClassPicker.vue';
import NewGroup from '@/classes/NewGroup.vue';
import Choice from '@/kit/Choice.vue';
import DayInput from '@/kit/DayInput.vue';
import { useLoad } from '@/kit/load';
import PersonPicker from '@/people/PersonPicker.vue';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { t } from '@/words';
import type { VerbForm, VerbKind } from './verb';

const props = defineProps<{ what: VerbKind }>();
const form = defineModel<VerbForm>({ required: true });
const session = useSession();
const sheaf = useSheaf();
const groups = useLoad(
  t('frame.groups'),
  'GET /api/groups',
  () => ({ query: { school: session.where.school ?? undefined } }),
  { enabled: () => props.what === 'group', alone: true },
);
const products = useLoad(t('frame.products'), 'GET /api/products', undefined, {
  enabled: () => props.what === 'seats',
  alone: true,
});
/** Groups with a rule are left out: students who match it are members automatically. */
const choosable = computed(() => (groups.data.value ?? []).filter(({ rule }) => rule === null));
</script>

<template>
  <template v-if="what === 'enroll'">
    <label>{{ t('common.class') }} <ClassPicker v-model="form.classId" :school="session.where.school" /></label>
    <label
      >{{ t('frame.classChange') }}
      <Choice v-model:value="form.way">
        <SelectOption value="instead">{{ t('frame.replaceTheirOtherClassOf') }}</SelectOption>
        <SelectOption value="besides">{{ t('frame.inAdditionToTheirOther') }}</SelectOption>
        <SelectOption value="out">{{ t('frame.removeFromTheGroup') }}</SelectOption>
      </Choice></label
    >
  </template>
  <template v-else-if="what === 'group'">
    <label v-if="choosable.length > 0"
      >{{ t('frame.group') }}
      <Choice v-model:value="form.groupId">
        <SelectOption :value="null">{{ t('frame.chooseOne') }}</SelectOption>
        <SelectOption v-for="g in choosable" :key="g.id" :value="g.id">
          {{ [g.name, g.className, session.where.school ? null : g.school].filter(Boolean).join(' · ') }}
        </SelectOption>
      </Choice></label
    >
    <label v-if="choosable.length > 0"
      >{{ t('frame.groupChange') }}
      <Choice v-model:value="form.out">
        <SelectOption :value="false">{{ t('frame.addToTheGroup') }}</SelectOption>
        <SelectOption :value="true">{{ t('frame.takeOut') }}</SelectOption>
      </Choice></label
    >
    <NewGroup v-if="groups.data.value" />
  </template>
  <template v-else-if="what === 'move'">
    <label
      >{{ t('common.school') }}
      <Choice v-model:value="form.schoolId">
        <SelectOption :value="null">{{ t('frame.unchanged2') }}</SelectOption>
        <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('common.grade') }}
      <Choice v-model:value="form.grade">
        <SelectOption :value="null">{{ t('frame.keepAsItIs') }}</SelectOption>
        <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('common.class') }}
      <ClassPicker v-model="form.classId" :school="form.schoolId ?? session.where.school" :none="t('frame.noneForNow')"
    /></label>
  </template>
  <template v-else-if="what === 'seats'">
    <label
      >{{ t('frame.product') }}
      <Choice v-model:value="form.productId">
        <SelectOption :value="null">{{ t('frame.chooseOne') }}</SelectOption>
        <SelectOption v-for="p in products.data.value?.products ?? []" :key="p.id" :value="p.id">{{
          p.label
        }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('frame.action') }}
      <Choice v-model:value="form.take">
        <SelectOption :value="false">{{ t('frame.assignASeat') }}</SelectOption>
        <SelectOption :value="true">{{ t('frame.takeBackTheirSeat') }}</SelectOption>
      </Choice></label
    >
  </template>
  <template v-else-if="what === 'devices'">
    <label
      >{{ t('frame.action') }}
      <Choice v-model:value="form.take">
        <SelectOption :value="false">{{ t('frame.assignFreeDevicesAtTheir') }}</SelectOption>
        <SelectOption :value="true">{{ t('frame.returnTheirDevices') }}</SelectOption>
      </Choice></label
    >
    <label v-if="!form.take">{{ t('frame.until') }} <DayInput v-model:value="form.due" allow-clear /></label>
  </template>
  <label v-else-if="what === 'hold'"
    >{{ t('frame.signIn') }}
    <Choice v-model:value="form.hold">
      <SelectOption :value="true">{{ t('frame.suspendTheyKeepTheirSchool') }}</SelectOption>
      <SelectOption :value="false">{{ t('frame.resume') }}</SelectOption>
    </Choice></label
  >
  <p v-else-if="what === 'ready'" class="quiet">
    {{ t('frame.anAccountTheHomeroomOf') }}
  </p>
  <template v-else>
    <label
      >{{ t('frame.what') }}
      <Choice v-model:value="form.back">
        <SelectOption :value="false">{{ t('frame.withdraw') }}</SelectOption>
        <SelectOption :value="true">{{ t('frame.enrollAgain') }}</SelectOption>
      </Choice></label
    >
    <p v-if="form.back" class="quiet">{{ t('frame.whoLeftReturnsTo') }}</p>
    <p v-else class="quiet">
      {{ t('frame.theirClassesEndTodayAnd') }}
    </p>
    <label v-if="sheaf.state.byGrade.some(({ value }) => value === '')"
      >{{ t('frame.transferATeachersClassesTo') }}
      <PersonPicker v-model="form.heirId" role="staff" :none="t('frame.noOneForNow')"
    /></label>
  </template>
</template>
