<script setup lang="ts">
/** The rows of a file that could be somebody on record, one after the other, those first whose answer settles most. */
import { t } from '@/words';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { useSettling } from './keys';
import PairSheet from './PairSheet.vue';
import { useAgain, useLoad } from '@/kit/load';

const route = useRoute();
const router = useRouter();
const work = useWork();
const reload = useAgain();
const id = String(route.params.id);
const pairs = useLoad(t('pairs.matchesToReview'), 'GET /api/intakes/:id/pairs', () => ({ id }), { keep: false });

/** Lines put off until the others are done. */
const later = ref<number[]>([]);
/** Lines answered just now: the next pair is shown at once, and what the answer settles besides comes a moment later. */
const answered = ref(new Set<number>());
const candidate = ref(0);
const done = ref<{ line: number; personId: string; text: string }[]>([]);
const queue = computed(() => {
  const all = (pairs.data.value ?? []).filter(({ line }) => !answered.value.has(line));
  const off = (line: number) => later.value.indexOf(line);
  return [...all].sort((a, b) => off(a.line) - off(b.line));
});
const at = ref(0);
const pair = computed(() => queue.value[Math.min(at.value, queue.value.length - 1)]);
const person = computed(() => pair.value?.candidates[candidate.value]);
/** Answers go to the server one after the other. */
let sending: Promise<void> = Promise.resolve();

function decide(same: boolean): void {
  if (!pair.value || !person.value) return;
  const { line, row } = pair.value;
  const { id: personId, givenName, familyName } = person.value.person;
  const text = t('pairs.is', {
    givenName: row.givenName,
    familyName: row.familyName,
    not: same ? '' : `${t('pairs.not')} `,
    givenName2: givenName,
    familyName2: familyName,
  });
  done.value.push({ line, personId, text });
  answered.value = new Set([...answered.value, line]);
  candidate.value = 0;
  at.value = 0;
  sending = sending.then(() => send(line, personId, same, text));
}
async function send(line: number, personId: string, same: boolean, text: string): Promise<void> {
  const before = new Set((pairs.data.value ?? []).map((p) => p.line));
  try {
    await call('POST /api/intakes/:id/decide', { id, body: { line, personId, same } });
    await pairs.refetch();
    const left = new Set((pairs.data.value ?? []).map((p) => p.line));
    const also = [...before].filter((other) => other !== line && !left.has(other) && !answered.value.has(other)).length;
    work.say(`${text}.${also > 0 ? ` ${t('pairs.thisResolvedMore', { also })}` : ''}`, {
      label: t('pairs.return'),
      run: back,
    });
    await reload('GET /api/intakes/:id');
  } catch (error) {
    done.value = done.value.filter((d) => d.line !== line || d.personId !== personId);
    work.wrong(error);
  } finally {
    answered.value = new Set([...answered.value].filter((other) => other !== line));
  }
}
async function back(): Promise<void> {
  await sending;
  const last = done.value.pop();
  if (!last) return;
  await call('POST /api/intakes/:id/decide', { id, body: { line: last.line, personId: last.personId, same: null } });
  await pairs.refetch();
  at.value = Math.max(
    0,
    queue.value.findIndex(({ line }) => line === last.line),
  );
  work.say(t('pairs.undone', { text: last.text }));
}
function putOff(): void {
  if (!pair.value) return;
  later.value = [...later.value.filter((line) => line !== pair.value!.line), pair.value.line];
  candidate.value = 0;
  at.value = 0;
}
function move(by: 1 | -1, what: 'candidate' | 'pair'): void {
  if (what === 'candidate') {
    const count = pair.value?.candidates.length ?? 0;
    candidate.value = Math.max(0, Math.min(count - 1, candidate.value + by));
  } else {
    at.value = Math.max(0, Math.min(queue.value.length - 1, at.value + by));
    candidate.value = 0;
  }
}
useSettling({ same: () => decide(true), different: () => decide(false), later: putOff, back, move });
</script>

<template>
  <PairSheet
    :title="t('pairs.matchesToReview2')"
    :count="queue.length"
    :settled="done.length"
    :loading="pairs.isPending.value"
    :position="at"
    :why="pair?.why ?? ''"
    :top="pair && { label: t('pairs.lineOfTheFile', { line: pair.line }), person: pair.row }"
    :below="pair?.candidates.map((c) => ({ label: t('pairs.onRecord'), person: c.person })) ?? []"
    :chosen="candidate"
    :evidence="person?.evidence ?? []"
    :same="t('pairs.samePerson')"
    :different="t('pairs.anotherPerson')"
    :empty="t('pairs.noMatchesOfThisFile')"
    @choose="candidate = $event"
    @same="decide(true)"
    @different="decide(false)"
    @later="putOff"
    @back="back"
    @close="router.push(`/imports/${id}`)"
  />
</template>
