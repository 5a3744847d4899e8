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
    if (intakeId) await router.push(`/intake/${intakeId}`);
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
  <section class="feeds" :aria-label="t('intake.feeds')">
    <div class="row head">
      <h2>{{ t('intake.feeds') }}</h2>
      <span class="quiet">{{ t('intake.sourcesThatSendFilesAgain') }}</span>
      <span class="grow" />
      <Button v-if="mayEdit" size="small" @click="edit = blank()">{{ t('intake.newFeed') }}</Button>
    </div>
    <ul>
      <li v-for="feed in rows" :key="feed.id" class="row">
        <Button type="text" size="small" @click="emit('open', feed)">
          <b class="clip">{{ feed.name }}</b>
        </Button>
        <span class="quiet clip grow">{{
          t('intake.about', {
            way: waysInWords[feed.way],
            feed: schoolOf(feed),
            complete: feed.settings.complete ? t('intake.completeList') : '',
            files: feed.files,
            files2: feed.files === 1 ? t('intake.file') : t('intake.files'),
            lastRunAt: feed.lastRunAt ? ` ${t('intake.checked', { lastRunAt: when(feed.lastRunAt) })}` : '',
            nextRunAt: !feed.active
              ? ` ${t('intake.paused')}`
              : feed.nextRunAt
                ? ` ${t('intake.next', { nextRunAt: when(feed.nextRunAt) })}`
                : '',
          })
        }}</span>
        <span v-if="feed.lastError" class="rust clip" :title="feed.lastError">⚑ {{ feed.lastError }}</span>
        <Button v-if="feed.way === 'upload'" size="small" @click="emit('choose', feed.id)">
          {{ t('intake.openItsNextFile') }}
        </Button>
        <Button v-else-if="mayEdit" size="small" @click="take(feed)">{{ t('intake.checkNow') }}</Button>
        <Button v-if="mayEdit" type="text" size="small" @click="pause(feed)">
          {{ feed.active ? t('intake.pause') : t('intake.continue') }}
        </Button>
        <Button v-if="mayEdit" type="text" size="small" @click="change(feed)">{{ t('intake.settings') }}</Button>
      </li>
      <li v-if="rows.length === 0 && !edit" class="quiet">
        {{ t('intake.noFeedsYetAFile') }}
      </li>
    </ul>
    <form v-if="edit" class="edit" @submit.prevent="save">
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
      <label v-if="edit.way === 'folder'" class="wide"
        >{{ t('intake.folder') }} <TextInput v-model:value="edit.settings.folder"
      /></label>
      <template v-if="edit.way === 'service'">
        <label class="wide">{{ t('intake.address') }} <TextInput v-model:value="edit.settings.url" type="url" /></label>
        <label class="wide"
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
      <fieldset class="wide">
        <legend>{{ t('intake.keptAsTheDistrictHas') }}</legend>
        <Checkbox
          v-for="field in keepableFields"
          :key="field"
          :checked="edit.settings.kept.includes(field)"
          @change="keep(field)"
          >{{ spoken(fieldLabels[field]) }}</Checkbox
        >
      </fieldset>
      <div class="row wide">
        <Button type="primary" html-type="submit">{{ t('intake.saveFeed') }}</Button>
        <Button type="text" size="small" @click="edit = null">{{ t('intake.resetTheCell') }}</Button>
      </div>
    </form>
  </section>
</template>

<style scoped>
.feeds {
  padding: 0 16px 8px;
}
.head {
  min-height: 30px;
}
li {
  min-height: 30px;
  border-top: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
  gap: 16px;
}
li b {
  max-width: 260px;
}
.rust {
  max-width: 320px;
}
.edit {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px 16px;
  padding: 12px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  font-size: 13px;
}
.edit label:not(.ant-checkbox-wrapper) {
  display: grid;
  gap: 2px;
}
.wide {
  grid-column: span 2;
}
legend {
  font-size: 13px;
  margin: 0;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
</style>
