<script setup lang="ts">
/** One verb on the sheaf: what it needs to know, and beside it at once what would happen. Ends in a plan. */
import { locale, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { Verb } from '#core/register/verbs';
import { gradeLabel, grades } from '#core/tabular/values';
import { useCarryOut } from '@/frame/keys';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import ClassPicker from '@/classes/ClassPicker.vue';
import PersonPicker from '@/people/PersonPicker.vue';
import NewGroup from '@/classes/NewGroup.vue';
import { onShown, useLoad } from '@/kit/load';

const props = defineProps<{ what: 'enroll' | 'group' | 'move' | 'hold' | 'leave' | 'seats' | 'devices' | 'ready' }>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();

const form = reactive({
  classId: null as string | null,
  way: 'instead' as 'instead' | 'besides' | 'out',
  schoolId: null as string | null,
  grade: null as string | null,
  hold: true,
  groupId: null as string | null,
  out: false,
  heirId: null as string | null,
  productId: null as string | null,
  take: false,
  due: '',
});
const groups = useLoad(
  t('frame.groups'),
  'GET /api/groups',
  () => ({ query: { school: session.where.school ?? undefined } }),
  {
    enabled: () => props.what === 'group',
    alone: true,
  },
);
const products = useLoad(t('frame.products'), 'GET /api/products', undefined, {
  enabled: () => props.what === 'seats',
  alone: true,
});
/** By hand; whoever fits a rule is in its group without being put there. */
const choosable = computed(() => (groups.data.value ?? []).filter(({ rule }) => rule === null));
watch(
  () => form.schoolId,
  () => {
    if (props.what === 'move') form.classId = null;
  },
);
const order = computed<Verb | null>(() => {
  switch (props.what) {
    case 'enroll':
      if (form.classId === null) return null;
      return form.way === 'out'
        ? { verb: 'unenroll', classId: form.classId }
        : { verb: 'enroll', classId: form.classId, instead: form.way === 'instead' };
    case 'move':
      if (form.schoolId === null && form.grade === null && form.classId === null) return null;
      return { verb: 'move', schoolId: form.schoolId, grade: form.grade, classId: form.classId };
    case 'group':
      return form.groupId === null ? null : { verb: 'group', groupId: form.groupId, out: form.out };
    case 'hold':
      return { verb: form.hold ? 'hold' : 'release' };
    case 'seats':
      return form.productId === null ? null : { verb: 'seats', productId: form.productId, take: form.take };
    case 'devices':
      if (form.due && !/^\d{4}-\d{2}-\d{2}$/.test(form.due)) return null;
      return { verb: 'devices', take: form.take, due: form.due || null };
    case 'ready':
      return { verb: 'ready' };
    case 'leave':
      return { verb: 'leave', heirId: form.heirId };
  }
  return null;
});
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
  <section ref="box" class="verb ordering" :aria-label="titles[what]" @keydown.esc.stop="$emit('close')">
    <div class="ask row">
      <h2>{{ titles[what] }} {{ sheaf.state.count.toLocaleString(locale) }}</h2>
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
          <ClassPicker
            v-model="form.classId"
            :school="form.schoolId ?? session.where.school"
            :none="t('frame.noneForNow')"
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
        <label v-if="!form.take"
          >{{ t('frame.until') }} <TextInput v-model:value="form.due" :placeholder="t('frame.noEndOrYyyyMm')"
        /></label>
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
        <p class="quiet">
          {{ t('frame.theirClassesEndTodayAnd') }}
        </p>
        <label v-if="sheaf.state.byGrade.some(({ value }) => value === '')"
          >{{ t('frame.transferATeachersClassesTo') }}
          <PersonPicker v-model="form.heirId" role="staff" :none="t('frame.noOneForNow')"
        /></label>
      </template>
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
          >{{
            t('frame.plan', {
              changes: (shown?.changes ?? 0).toLocaleString(locale),
              changes2: shown?.changes === 1 ? t('frame.change') : t('frame.changes'),
            })
          }}
          <kbd>{{ t('frame.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
    <details v-if="shown && shown.problems.length > 0" class="rust" :open="shown.problems.length < 4">
      <summary>{{ t('frame.cannotBeChangedAndStay', { problems: shown.problems.length }) }}</summary>
      <ul>
        <li v-for="p in shown.problems" :key="p.label + p.message">
          <b>{{ p.label }}</b> {{ p.message }}
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.verb {
  border-top: 2px solid var(--ink);
}
details {
  margin-top: 6px;
  font-size: 13px;
}
details ul {
  max-height: 96px;
  overflow: auto;
}
</style>
