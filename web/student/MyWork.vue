<script setup lang="ts">
/** What a child is to work on: what is open first, each with its one button; a word is asked for where one is needed. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, nextTick, ref } from 'vue';
import type { MyWork } from '../../server/contract';
import { call } from '@/api';
import { weekdayMomentWords } from '@/time';
import { useLoad } from '@/kit/load';

/** `first`: the one that is meant; empty: none. */
const props = defineProps<{ first: string }>();
const list = useLoad(t('student.yourAssignments'), 'GET /api/mine/work', undefined, {
  // What comes opens while the page stays as it is.
  every: 60_000,
});
const all = computed(() => list.data.value ?? []);
/** The one that the link was to goes first; what is not expected of anybody stands apart. */
const parts = computed(() => {
  const isFirst = ({ id }: MyWork) => id === props.first;
  const assigned = all.value.filter((one) => !one.inLibrary || isFirst(one));
  return [
    {
      title: t('student.myWork'),
      works: [...assigned.filter(isFirst), ...assigned.filter((one) => !isFirst(one))],
    },
    { title: t('student.library'), works: all.value.filter((one) => one.inLibrary && !isFirst(one)) },
  ].filter(({ works }) => works.length > 0);
});
const isMissing = computed(
  () => props.first !== '' && list.data.value !== undefined && all.value.every(({ id }) => id !== props.first),
);
const asked = ref<string | null>(null);
const word = ref('');
const wrong = ref('');
async function enter(one: MyWork): Promise<void> {
  if (one.asksWord && asked.value !== one.id) {
    asked.value = one.id;
    word.value = '';
    wrong.value = '';
    await nextTick();
    document.getElementById('entry-word')?.focus();
    return;
  }
  try {
    const { address } = await call('POST /api/mine/work/:id', { id: one.id, body: { word: word.value } });
    window.location.assign(address);
  } catch (error) {
    asked.value = one.id;
    wrong.value = error instanceof Error ? error.message : String(error);
  }
}
const says = (one: MyWork): string =>
  [
    one.phase === 'coming'
      ? t('student.opens', { opensAt: weekdayMomentWords(one.opensAt) })
      : one.phase === 'shut'
        ? t('student.pausedByYourTeacher')
        : '',
    one.dueAt && !one.isDone && (one.phase === 'open' || one.phase === 'shut')
      ? t('student.due', { dueAt: weekdayMomentWords(one.dueAt) })
      : '',
    one.phase === 'closed'
      ? t('student.closed')
      : one.closesAt && one.phase !== 'coming'
        ? t('student.until', { closesAt: weekdayMomentWords(one.closesAt) })
        : '',
    one.minutes ? t('student.minutes', { minutes: one.minutes }) : '',
    one.needs ? t('student.youNeed', { needs: one.needs }) : '',
  ]
    .filter(Boolean)
    .join(' · ');
</script>

<template>
  <p v-if="isMissing" class="rust">{{ t('student.thisAssignmentIsNotHere') }}</p>
  <section v-for="part in parts" :key="part.title" class="works" :aria-label="part.title">
    <h2 class="text-18px">{{ part.title }}</h2>
    <ul>
      <li
        v-for="one in part.works"
        :key="one.id"
        class="grid gap-4px py-12px px-0 [border-top:2px_solid_var(--rule)] break-anywhere"
        :class="{ meant: one.id === first }"
      >
        <b>{{ one.title }}</b>
        <span class="quiet">{{ one.className }} · {{ one.kind }}</span>
        <span v-if="says(one)" class="quiet">{{ says(one) }}</span>
        <span v-if="one.isDone" class="stem">{{
          t('student.done', {
            points: one.share === null ? '' : t('student.of100Points', { round: Math.round(one.share * 100) }),
          })
        }}</span>
        <form v-if="one.phase === 'open'" class="grid gap-8px mt-4px" @submit.prevent="enter(one)">
          <label v-if="asked === one.id && one.asksWord" class="grid gap-4px"
            >{{ t('student.startCodeFromYourTeacher') }}
            <TextInput
              id="entry-word"
              v-model:value="word"
              class="mono text-20px p-8px"
              autocomplete="off"
              autocapitalize="off"
              maxlength="40"
          /></label>
          <p v-if="asked === one.id && wrong" class="rust" role="alert">{{ wrong }}</p>
          <Button
            html-type="submit"
            size="large"
            :type="one.isDone ? 'default' : 'primary'"
            :aria-label="t('student.open', { title: one.title })"
            >{{ one.isDone ? t('student.openAgain') : t('student.open2') }}</Button
          >
        </form>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li b {
  font-size: 22px;
}
.meant {
  background: var(--straw-wash);
  padding: 12px;
}
</style>
