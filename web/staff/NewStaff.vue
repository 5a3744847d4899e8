<script setup lang="ts">
/** Staff typed in, one or a few: who is alike on record is asked about first; everyone gets an account and an invitation. */
import { t } from '@/words';
import TextInput from '@/kit/TextInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';
import type { StaffAlike } from '../../server/contract';
import { useCarryOut } from '@/frame/keys';
import { call } from '@/api';
import { useDraft } from '@/drafts';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { onShown } from '@/kit/load';

const emit = defineEmits<{ close: [] }>();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
interface Typed {
  familyName: string;
  givenName: string;
  email: string;
  schoolId: string;
  role: 'teacher' | 'school' | 'district';
}
const schools = computed(() => session.me?.schools ?? []);
const blank = (): Typed => ({
  familyName: '',
  givenName: '',
  email: '',
  schoolId: session.usualSchool,
  role: 'teacher',
});
const { body: typed, state: kept, clear } = useDraft<Typed[]>('new-staff', () => [blank()]);
const filled = computed(() => typed.value.filter((row) => row.familyName || row.givenName || row.email));
const alike = ref(new Map<number, StaffAlike[]>());
const anyway = ref(new Set<number>());
const box = ref<HTMLElement | null>(null);
const focusRow = (i: number) => box.value?.querySelector<HTMLInputElement>(`[data-row="${i}"] input`)?.focus();
onShown(() => focusRow(0));
async function next(i: number): Promise<void> {
  if (i === typed.value.length - 1) typed.value = [...typed.value, blank()];
  await nextTick();
  focusRow(i + 1);
}
function drop(i: number): void {
  typed.value = typed.value.length === 1 ? [blank()] : typed.value.filter((_, k) => k !== i);
  alike.value = new Map();
  anyway.value = new Set();
}
const another = (i: number) => {
  anyway.value = new Set([...anyway.value, i]);
  alike.value = new Map([...alike.value].filter(([line]) => line !== i));
};
const busy = ref(false);
async function take(): Promise<void> {
  if (busy.value || filled.value.length === 0 || filled.value.some((row) => !row.schoolId)) return;
  busy.value = true;
  try {
    const made = await call('POST /api/staff', { body: { people: filled.value, anyway: [...anyway.value] } });
    alike.value = new Map(made.alike.map(({ line, who }) => [line, who]));
    if (!made.planId) return;
    const { planId } = made;
    const count = made.invitationIds.length;
    await clear();
    sheaf.version++;
    emit('close');
    if (made.jobId) work.say((await work.follow(made.jobId, t('common.sendingMail'))).sentence ?? '');
    else
      work.say(t('staff.addedNoMailServerIs', { count }), {
        label: t('common.undo'),
        run: () => work.undo(planId),
      });
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    busy.value = false;
  }
}
useCarryOut(take, { first: true });
const columns = [
  ['familyName', t('staff.familyName'), 'off'],
  ['givenName', t('staff.givenName'), 'off'],
  ['email', t('staff.email'), 'off'],
] as const;
</script>

<template>
  <section
    ref="box"
    class="typed ordering [border-bottom:2px_solid_var(--ink)] max-h-45vh overflow-auto"
    :aria-label="t('staff.newStaff')"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="row gap-16px">
      <h2>{{ t('staff.newStaff') }}</h2>
      <span class="quiet">{{ t('staff.eachPersonGetsAnAccount') }}</span>
      <span class="grow" />
      <span v-if="kept === 'failed'" class="rust" role="status">{{ t('staff.draftNotSavedTheServer') }}</span>
      <Button type="text" size="small" @click="$emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('staff.esc') }}</kbd></span
        ></Button
      >
    </div>
    <template v-for="(row, i) in typed" :key="i">
      <div class="line grid [grid-template-columns:1fr_1fr_1.4fr_1fr_1fr_28px] gap-6px py-2px px-0" :data-row="i">
        <TextInput
          v-for="[key, label] in columns"
          :key="key"
          v-model:value="row[key]"
          :type="key === 'email' ? 'email' : 'text'"
          autocomplete="off"
          :placeholder="label"
          :aria-label="t('staff.line', { label, i: i + 1 })"
          @keydown.enter.exact.prevent="next(i)"
        />
        <Choice
          v-model:value="row.schoolId"
          :placeholder="t('staff.chooseASchool')"
          :aria-label="t('staff.schoolLine', { i: i + 1 })"
        >
          <SelectOption v-for="s in schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice>
        <Choice v-model:value="row.role" :aria-label="t('staff.roleLine', { i: i + 1 })">
          <SelectOption value="teacher">{{ t('staff.teacher') }}</SelectOption>
          <SelectOption value="school">{{ t('staff.schoolCoordinator') }}</SelectOption>
          <SelectOption v-if="session.may('roles.district')" value="district">{{
            t('staff.districtCoordinator')
          }}</SelectOption>
        </Choice>
        <Button type="text" size="small" :aria-label="t('staff.removeLine', { i: i + 1 })" @click="drop(i)">×</Button>
      </div>
      <p
        v-for="who in alike.get(i) ?? []"
        :key="who.personId"
        class="row alike gap-16px text-13px pt-0 pb-4px pl-4px pr-0"
      >
        <span class="rust">{{
          t('staff.isOnRecordAtWith', { name: who.name, school: who.school, why: who.why })
        }}</span>
        <span v-if="who.username" class="mono quiet">{{ who.username }}</span>
        <Button size="small" @click="another(i)">{{ t('staff.itIsAnotherPerson') }}</Button>
        <Button size="small" @click="drop(i)">{{ t('staff.itIsTheSamePerson') }}</Button>
      </p>
    </template>
    <div class="row gap-16px mt-6px">
      <span class="quiet grow"
        ><kbd>{{ t('staff.enter') }}</kbd> {{ t('staff.startsTheNextLineWhat') }}</span
      >
      <Button
        type="primary"
        :disabled="filled.length === 0 || filled.some((row) => !row.schoolId) || busy"
        @click="take"
        ><span
          >{{ t('staff.addAndInvite', { filled: filled.length }) }} <kbd>{{ t('staff.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
  </section>
</template>

<style scoped>
.line :is(.ant-input, .choice) {
  width: 100%;
  min-width: 0;
}
</style>
