<script setup lang="ts">
/** The sources that send again and again: where from, how often, what each is about and which fields it may not change. */
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
const feeds = useLoad('feeds', 'GET /api/feeds');
const rows = computed(() => feeds.data.value ?? []);
const mayEdit = computed(() => session.may('feeds.keep'));
const edit = ref<FeedEdit | null>(null);
const waysInWords: Record<FeedWay, string> = {
  upload: 'files opened by hand',
  folder: 'a folder',
  service: 'a register’s service',
};
const often: [number | null, string][] = [
  [null, 'only when asked'],
  [1, 'every minute'],
  [60, 'every hour'],
  [1440, 'every night'],
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
    const { intakeId } = await work.follow(jobId, `Looking at ${feed.name}`);
    if (intakeId) await router.push(`/intake/${intakeId}`);
    else work.say(`${feed.name} has nothing new.`);
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
  session.me?.schools.find(({ id }) => id === feed.settings.schoolId)?.name ?? 'the schools it names';
const when = (at: string | null) => (at ? momentWords(at) : '—');
</script>

<template>
  <section class="feeds" aria-label="Feeds">
    <div class="row head">
      <h2>Feeds</h2>
      <span class="quiet">sources that send again: how each is read is remembered</span>
      <span class="grow" />
      <Button v-if="mayEdit" size="small" @click="edit = blank()">New feed</Button>
    </div>
    <ul>
      <li v-for="feed in rows" :key="feed.id" class="row">
        <Button type="text" size="small" @click="emit('open', feed)">
          <b class="clip">{{ feed.name }}</b>
        </Button>
        <span class="quiet clip grow"
          >{{ waysInWords[feed.way] }} · about {{ schoolOf(feed) }}{{ feed.settings.complete ? ', complete' : '' }} ·
          {{ feed.files }} {{ feed.files === 1 ? 'file' : 'files'
          }}{{ feed.lastRunAt ? ` · looked at ${when(feed.lastRunAt)}` : ''
          }}{{ !feed.active ? ' · paused' : feed.nextRunAt ? ` · next ${when(feed.nextRunAt)}` : '' }}</span
        >
        <span v-if="feed.lastError" class="rust clip" :title="feed.lastError">⚑ {{ feed.lastError }}</span>
        <Button v-if="feed.way === 'upload'" size="small" @click="emit('choose', feed.id)"> Open its next file </Button>
        <Button v-else-if="mayEdit" size="small" @click="take(feed)">Look now</Button>
        <Button v-if="mayEdit" type="text" size="small" @click="pause(feed)">
          {{ feed.active ? 'Pause' : 'Go on' }}
        </Button>
        <Button v-if="mayEdit" type="text" size="small" @click="change(feed)">Settings</Button>
      </li>
      <li v-if="rows.length === 0 && !edit" class="quiet">
        No feed yet. A file opened by itself is read anew each time.
      </li>
    </ul>
    <form v-if="edit" class="edit" @submit.prevent="save">
      <label>Name <TextInput v-model:value="edit.name" required maxlength="200" /></label>
      <label
        >From
        <Choice v-model:value="edit.way">
          <SelectOption v-for="(label, way) in waysInWords" :key="way" :value="way">{{ label }}</SelectOption>
        </Choice></label
      >
      <label
        >About
        <Choice v-model:value="edit.settings.schoolId">
          <SelectOption :value="null">the schools that it names</SelectOption>
          <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label v-if="edit.way !== 'upload'"
        >Looked at
        <Choice v-model:value="edit.settings.everyMinutes">
          <SelectOption v-for="[minutes, label] in often" :key="label" :value="minutes">{{ label }}</SelectOption>
        </Choice></label
      >
      <label v-if="edit.way === 'folder'" class="wide">Folder <TextInput v-model:value="edit.settings.folder" /></label>
      <template v-if="edit.way === 'service'">
        <label class="wide">Address <TextInput v-model:value="edit.settings.url" type="url" /></label>
        <label class="wide">Tokens from <TextInput v-model:value="edit.settings.tokenUrl" type="url" /></label>
        <label>Client <TextInput v-model:value="edit.settings.clientId" /></label>
        <label
          >Secret
          <TextInput
            v-model:value="edit.secret"
            type="password"
            autocomplete="off"
            :placeholder="edit.id ? 'as it is' : ''"
        /></label>
      </template>
      <Checkbox :checked="edit.settings.complete" @change="edit.settings.complete = !edit.settings.complete"
        >complete: who is not in it has left</Checkbox
      >
      <fieldset class="wide">
        <legend>Kept as the district has them, whatever the feed says</legend>
        <Checkbox
          v-for="field in keepableFields"
          :key="field"
          :checked="edit.settings.kept.includes(field)"
          @change="keep(field)"
          >{{ fieldLabels[field] }}</Checkbox
        >
      </fieldset>
      <div class="row wide">
        <Button type="primary" html-type="submit">Save the feed</Button>
        <Button type="text" size="small" @click="edit = null">Leave it as it was</Button>
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
