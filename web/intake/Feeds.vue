<script setup lang="ts">
/** The sources that send again and again: where from, how often, what each is about and which fields it may not change. */
import { spoken, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { type Feed, type FeedEdit, type FeedWay, keepableFields } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { fieldLabels } from '#core/tabular/fields';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { useLoad } from '@/kit/load';

const emit = defineEmits<{ choose: [feedId: string | null]; open: [feed: Feed] }>();
const router = useRouter();
const session = useSession();
const work = useWork();
const feeds = useLoad(t('intake.feeds2'), 'GET /api/feeds');
const rows = computed(() => feeds.data.value ?? []);
const mayEdit = computed(() => session.may('feeds.keep'));
const edit = ref<FeedEdit | null>(null);
const waysInWords: Record<FeedWay, string> = {
  upload: t('intake.filesOpenedByHand'),
  folder: t('intake.folderKind'),
  service: 'a register’s service',
};
const often: [number | null, string][] = [
  [null, t('intake.onlyByHand')],
  [1, t('intake.everyMinute')],
  [60, t('intake.everyHour')],
  [1440, t('intake.everyNight')],
];
const blank = (): FeedEdit => ({
  name: '',
  way: 'upload',
  settings: { schoolId: null, complete: false, kept: [], everyMinutes: null },
});
const change = (feed: Feed) =>
  (edit.value = {
    id: feed.id,
    name: feed.name,
    way: feed.way,
    settings: JSON.parse(JSON.stringify(feed.settings)) as Feed['settings'],
  });

async function save(): Promise<void> {
  if (!edit.value) return;
  try {
    await call('POST /api/feeds', { body: edit.value });
    edit.value = null;
    await feeds.refetch();
  } catch (error) {
    work.wrong(error);
  }
}
async function take(feed: Feed): Promise<void> {
  try {
    const { jobId } = await call('POST /api/feeds/:id/take', { id: feed.id });
    const { intakeId } = await work.follow(jobId, t('intake.checking', { name: feed.name }));
    if (intakeId) await router.push(`/imports/${intakeId}`);
    else work.say(t('intake.hasNothingNew', { name: feed.name }));
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
    await feeds.refetch();
  }
}
async function pause(feed: Feed): Promise<void> {
  try {
    await call('POST /api/feeds/:id/active', { id: feed.id, body: { active: !feed.active } });
    await feeds.refetch();
  } catch (error) {
    work.wrong(error);
  }
}
function keep(field: (typeof keepableFields)[number]): void {
  const { settings } = edit.value!;
  settings.kept = settings.kept.includes(field) ? settings.kept.filter((f) => f !== field) : [...settings.kept, field];
}
const schoolOf = (feed: Feed) =>
  session.me?.schools.find(({ id }) => id === feed.settings.schoolId)?.name ?? t('intake.theSchoolsItNames');
const when = (at: string | null) => (at ? momentWords(at) : '—');
</script>

<template>
  <section class="pt-0 pb-8px px-16px" :aria-label="t('intake.feeds')">
    <div class="row head min-h-30px">
      <h2>{{ t('intake.feeds') }}</h2>
      <span class="quiet">{{ t('intake.sourcesThatSendFilesAgain') }}</span>
      <span class="grow" />
      <Button v-if="mayEdit" size="small" @click="edit = blank()">{{ t('intake.newFeed') }}</Button>
    </div>
    <ul>
      <li
        v-for="feed in rows"
        :key="feed.id"
        class="row min-h-30px [border-top:1px_solid_color-mix(in_srgb,var(--rule)_60%,transparent)] gap-16px"
      >
        <Button type="text" size="small" @click="emit('open', feed)">
          <b class="clip">{{ feed.name }}</b>
        </Button>
        <span class="quiet clip grow">{{
          t('intake.about', {
            way: waysInWords[feed.way],
            feed: schoolOf(feed),
            complete: feed.settings.complete ? t('intake.completeList') : '',
            files: feed.files,
            lastRunAt: feed.lastRunAt ? ` ${t('intake.checked', { lastRunAt: when(feed.lastRunAt) })}` : '',
            nextRunAt: !feed.active
              ? ` ${t('intake.paused')}`
              : feed.nextRunAt
                ? ` ${t('intake.next', { nextRunAt: when(feed.nextRunAt) })}`
                : '',
          })
        }}</span>
        <span v-if="feed.lastError" class="rust clip max-w-320px" :title="feed.lastError">⚑ {{ feed.lastError }}</span>
        <Button v-if="feed.way === 'upload'" size="small" @click="emit('choose', feed.id)">
          {{ t('intake.openItsNextFile') }}
        </Button>
        <Button v-else-if="mayEdit" size="small" @click="take(feed)">{{ t('intake.checkNow') }}</Button>
        <Button v-if="mayEdit" type="text" size="small" @click="pause(feed)">
          {{ feed.active ? t('intake.pause') : t('intake.continue') }}
        </Button>
        <Button v-if="mayEdit" type="text" size="small" @click="change(feed)">{{ t('intake.settings') }}</Button>
      </li>
      <li
        v-if="rows.length === 0 && !edit"
        class="quiet min-h-30px [border-top:1px_solid_color-mix(in_srgb,var(--rule)_60%,transparent)] gap-16px"
      >
        {{ t('intake.noFeedsYetAFile') }}
      </li>
    </ul>
    <form
      v-if="edit"
      class="edit grid [grid-template-columns:repeat(4,minmax(0,1fr))] gap-y-8px gap-x-16px p-12px ruled bg-sheet text-13px"
      @submit.prevent="save"
    >
      <label>{{ t('common.name') }} <TextInput v-model:value="edit.name" required maxlength="200" /></label>
      <label
        >{{ t('intake.from') }}
        <Choice v-model:value="edit.way">
          <SelectOption v-for="(label, way) in waysInWords" :key="way" :value="way">{{ label }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('intake.about2') }}
        <Choice v-model:value="edit.settings.schoolId">
          <SelectOption :value="null">{{ t('intake.theSchoolsItNames2') }}</SelectOption>
          <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label v-if="edit.way !== 'upload'"
        >{{ t('intake.checked2') }}
        <Choice v-model:value="edit.settings.everyMinutes">
          <SelectOption v-for="[minutes, label] in often" :key="label" :value="minutes">{{ label }}</SelectOption>
        </Choice></label
      >
      <label v-if="edit.way === 'folder'" class="col-span-2"
        >{{ t('intake.folder') }} <TextInput v-model:value="edit.settings.folder"
      /></label>
      <template v-if="edit.way === 'service'">
        <label class="col-span-2"
          >{{ t('intake.address') }} <TextInput v-model:value="edit.settings.url" type="url"
        /></label>
        <label class="col-span-2"
          >{{ t('intake.tokensFrom') }} <TextInput v-model:value="edit.settings.tokenUrl" type="url"
        /></label>
        <label>{{ t('intake.client') }} <TextInput v-model:value="edit.settings.clientId" /></label>
        <label
          >{{ t('intake.clientSecret') }}
          <TextInput
            v-model:value="edit.secret"
            type="password"
            autocomplete="off"
            :placeholder="edit.id ? t('intake.keepAsItIs') : ''"
        /></label>
      </template>
      <Checkbox :checked="edit.settings.complete" @change="edit.settings.complete = !edit.settings.complete">{{
        t('intake.completeListStudentsWhoAre')
      }}</Checkbox>
      <fieldset class="col-span-2 [border:0] p-0 m-0">
        <legend>{{ t('intake.keptAsTheDistrictHas') }}</legend>
        <Checkbox
          v-for="field in keepableFields"
          :key="field"
          :checked="edit.settings.kept.includes(field)"
          @change="keep(field)"
          >{{ spoken(fieldLabels[field]) }}</Checkbox
        >
      </fieldset>
      <div class="row col-span-2">
        <Button type="primary" html-type="submit">{{ t('intake.saveFeed') }}</Button>
        <Button type="text" size="small" @click="edit = null">{{ t('intake.resetTheCell') }}</Button>
      </div>
    </form>
  </section>
</template>

<style scoped>
li b {
  max-width: 260px;
}
.edit label:not(.ant-checkbox-wrapper) {
  display: grid;
  gap: 2px;
}
legend {
  font-size: 13px;
  margin: 0;
}
</style>
