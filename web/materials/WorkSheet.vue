<script setup lang="ts">
/** One piece of set work: its conditions, each changed in place, and who has done it. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Figures from '@/kit/Figures.vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '@/api';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { answersShown } from '#core/entities/index';
import type { WorkFields } from '#core/setwork/index';
import { momentWords } from '@/time';
import { fromField, toField } from '@/fields';
import { useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ close: []; changed: [] }>();
const work = useWork();
const sheaf = useSheaf();
const query = useLoad(t('materials.theAssignment'), 'GET /api/work/:id', () => ({ id: props.id }));
const one = computed(() => query.data.value?.work);
const people = computed(() => query.data.value?.people ?? []);
const undone = computed(() => people.value.filter(({ doneAt }) => doneAt === null));
const change = useChange(() => {
  emit('changed');
  return query.refetch();
});
async function set<F extends keyof WorkFields>(field: F, after: WorkFields[F]): Promise<void> {
  const before = one.value![field];
  if ((before ?? null) === (after ?? null)) return;
  await change(
    () =>
      call('POST /api/work/:id/edit', { id: props.id, body: { field, before: before ?? null, after: after ?? null } }),
    t('materials.saved', { title: one.value!.title }),
  );
}
async function copyLink(): Promise<void> {
  const { url } = query.data.value!;
  try {
    await navigator.clipboard.writeText(url);
    work.say(t('materials.linkIsCopied', { url }));
  } catch {
    // Without leave to copy it is shown to be copied by hand.
    work.say(url);
  }
}
async function gatherUndone(): Promise<void> {
  try {
    await sheaf.mark(
      undone.value.map(({ id }) => id),
      true,
    );
    sheaf.version++;
  } catch (error) {
    work.wrong(error);
  }
}
const words = {
  done: t('materials.whenTheStudentIsDone'),
  closed: t('materials.whenItIsClosed'),
  never: t('materials.notHere'),
} as const;
</script>

<template>
  <section v-if="one" class="one beside" :aria-label="t('materials.assign')" @keydown.esc="emit('close')">
    <header class="row">
      <div class="grow">
        <h2 class="title">{{ one.title }}</h2>
        <p class="quiet">{{ t('materials.of', { material: one.material, kind: one.kind, product: one.product }) }}</p>
        <p class="quiet">{{ one.className }}{{ one.groupName ? `, ${one.groupName}` : '' }} · {{ one.school }}</p>
        <p v-if="one.groupEnded" class="rust">
          {{ t('materials.theGroupHasEndedSo') }}
        </p>
      </div>
      <Button type="text" size="small" :aria-label="t('materials.closeTheAssignment')" @click="emit('close')">{{
        t('materials.esc')
      }}</Button>
    </header>
    <div class="facts grid [grid-template-columns:100px_1fr] gap-y-4px gap-x-8px items-center">
      <label class="c-quiet" for="work-title">{{ t('materials.title2') }}</label>
      <TextInput
        id="work-title"
        lazy
        maxlength="200"
        :value="one.title"
        @update:value="(title) => title && set('title', title)"
      />
      <label class="c-quiet" for="work-opens">{{ t('materials.opens') }}</label>
      <DayInput
        id="work-opens"
        at="08:00"
        :value="toField(one.opensAt)"
        @update:value="(at) => at && set('opensAt', fromField(at)!)"
      />
      <span class="c-quiet">{{ t('materials.purpose') }}</span>
      <Choice
        :aria-label="t('materials.purpose')"
        :value="one.library === 1 ? 'library' : 'assigned'"
        @update:value="(as) => set('library', as === 'library' ? 1 : null)"
      >
        <SelectOption value="assigned">{{ t('materials.assignedToStudents') }}</SelectOption>
        <SelectOption value="library">{{ t('materials.inTheLibrary') }}</SelectOption>
      </Choice>
      <label v-if="one.library !== 1" class="c-quiet" for="work-due">{{ t('materials.due') }}</label>
      <DayInput
        v-if="one.library !== 1"
        id="work-due"
        at="15:00"
        allow-clear
        :value="toField(one.dueAt)"
        @update:value="(at) => set('dueAt', fromField(at ?? ''))"
      />
      <label class="c-quiet" for="work-closes">{{ t('materials.closes') }}</label>
      <DayInput
        id="work-closes"
        at="15:00"
        :value="toField(one.closesAt)"
        @update:value="(at) => set('closesAt', fromField(at ?? ''))"
      />
      <label class="c-quiet" for="work-minutes">{{ t('materials.timeLimit') }}</label>
      <span class="row"
        ><NumberInput
          id="work-minutes"
          class="w-80px"
          lazy
          :min="1"
          :max="1440"
          :value="one.minutes"
          @update:value="(minutes) => set('minutes', minutes || null)"
        />
        {{ t('materials.minutes') }}</span
      >
      <label class="c-quiet" for="work-word">{{ t('materials.startCode') }}</label>
      <TextInput
        id="work-word"
        lazy
        maxlength="40"
        :placeholder="t('common.none')"
        :value="one.entryWord"
        @update:value="(word) => set('entryWord', word || null)"
      />
      <label class="c-quiet" for="work-answers">{{ t('materials.answersShown') }}</label>
      <Choice id="work-answers" :value="one.answers" @update:value="(answers) => set('answers', answers)">
        <SelectOption v-for="a in answersShown" :key="a" :value="a">{{ words[a] }}</SelectOption>
      </Choice>
    </div>
    <div class="row flex-wrap">
      <Button @click="set('paused', one.paused ? 0 : 1)">{{
        one.paused ? t('materials.continue') : t('materials.pause')
      }}</Button>
      <template v-if="!one.forStaff">
        <Button @click="copyLink">{{ t('materials.copyLink') }}</Button>
        <RouterLink :to="`/board/work/${id}`">{{ t('materials.showQrCode') }}</RouterLink>
      </template>
      <Button v-if="undone.length > 0 && one.library !== 1" @click="gatherUndone">{{
        t('materials.gatherWhoHaveNotFinished', { undone: undone.length })
      }}</Button>
    </div>
    <p v-if="one.forStaff" class="quiet">{{ t('materials.forStaffCopyIt') }}</p>
    <section v-else-if="!one.groupEnded">
      <h2>{{ t('materials.doneOf', { done: one.done, people: one.people }) }}</h2>
      <p v-if="people.length === 0" class="quiet">
        {{ one.whom === 'class' ? t('materials.noStudentIsInThis') : t('materials.noneOfThemIsIn') }}
      </p>
      <Figures
        v-else
        class="people w-full"
        :rows="people"
        :row-key="(p) => p.id"
        :columns="[{ key: 'name' }, { key: 'state' }, { key: 'share', number: true }, { key: 'minutes', number: true }]"
      >
        <template #state="{ row: p }">
          <span v-if="p.doneAt" class="quiet"
            >{{ momentWords(p.doneAt) }}
            <span v-if="one.dueAt && p.doneAt > one.dueAt" class="rust">{{ t('materials.late') }}</span></span
          >
          <span v-else :class="one.phase === 'coming' || one.library === 1 ? 'quiet' : 'rust'">{{
            t('materials.notYet')
          }}</span>
        </template>
        <template #share="{ row: p }">{{ p.share === null ? '' : `${Math.round(p.share * 100)}%` }}</template>
        <template #minutes="{ row: p }">{{
          p.minutes === null ? '' : t('materials.min', { minutes: p.minutes })
        }}</template>
      </Figures>
    </section>
  </section>
</template>

<style scoped>
.one {
  width: 400px;
  font-size: 13px;
}
</style>
