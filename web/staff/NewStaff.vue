<script setup lang="ts">
/** Staff typed in, one or a few: who is alike on record is asked about first; everyone gets an account and an invitation. */
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
    if (made.jobId) work.say((await work.follow(made.jobId, 'Sending mail')).sentence ?? '');
    else
      work.say(`${count} added. No mail server is set up, so copy their links from Settings, Staff.`, {
        label: 'Undo',
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
  ['familyName', 'Family name', 'off'],
  ['givenName', 'Given name', 'off'],
  ['email', 'E-mail', 'off'],
] as const;
</script>

<template>
  <section ref="box" class="typed ordering" aria-label="New staff" @keydown.esc.stop="$emit('close')">
    <div class="row">
      <h2>New staff</h2>
      <span class="quiet">Each gets an account and an invitation, and chooses the password.</span>
      <span class="grow" />
      <span v-if="kept === 'failed'" class="rust" role="status">Draft not saved: the server does not answer</span>
      <Button type="text" size="small" @click="$emit('close')"
        ><span>Back <kbd>Esc</kbd></span></Button
      >
    </div>
    <template v-for="(row, i) in typed" :key="i">
      <div class="line" :data-row="i">
        <input
          v-for="[key, label] in columns"
          :key="key"
          v-model="row[key]"
          class="box"
          :type="key === 'email' ? 'email' : 'text'"
          autocomplete="off"
          :placeholder="label"
          :aria-label="`${label}, line ${i + 1}`"
          @keydown.enter.exact.prevent="next(i)"
        />
        <Choice v-model:value="row.schoolId" placeholder="Choose a school" :aria-label="`School, line ${i + 1}`">
          <SelectOption v-for="s in schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice>
        <Choice v-model:value="row.role" :aria-label="`Role, line ${i + 1}`">
          <SelectOption value="teacher">teacher</SelectOption>
          <SelectOption value="school">coordinator of the school</SelectOption>
          <SelectOption v-if="session.may('roles.district')" value="district">coordinator of the district</SelectOption>
        </Choice>
        <Button type="text" size="small" :aria-label="`Drop line ${i + 1}`" @click="drop(i)">×</Button>
      </div>
      <p v-for="who in alike.get(i) ?? []" :key="who.personId" class="row alike">
        <span class="rust">{{ who.name }} is on record at {{ who.school }} with {{ who.why }}</span>
        <span v-if="who.username" class="mono quiet">{{ who.username }}</span>
        <Button size="small" @click="another(i)">it is another person</Button>
        <Button size="small" @click="drop(i)">it is the same, drop the line</Button>
      </p>
    </template>
    <div class="row foot">
      <span class="quiet grow"
        ><kbd>Enter</kbd> begins the next line. What is typed stays here until it is taken in.</span
      >
      <Button
        type="primary"
        :disabled="filled.length === 0 || filled.some((row) => !row.schoolId) || busy"
        @click="take"
        ><span>Take in and invite {{ filled.length }} <kbd>Ctrl+Enter</kbd></span></Button
      >
    </div>
  </section>
</template>

<style scoped>
.typed {
  border-bottom: 2px solid var(--ink);
  max-height: 45vh;
  overflow: auto;
}
.row {
  gap: 16px;
}
.line {
  display: grid;
  grid-template-columns: 1fr 1fr 1.4fr 1fr 1fr 28px;
  gap: 6px;
  padding: 2px 0;
}
.line :is(.box, .choice) {
  width: 100%;
  min-width: 0;
}
.alike {
  font-size: 13px;
  padding: 0 0 4px 4px;
}
.foot {
  margin-top: 6px;
}
</style>
