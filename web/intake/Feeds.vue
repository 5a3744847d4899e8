<script setup lang="ts">
/** The sources that send again and again: where from, how often, what each is about and which fields it may not change. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import FeedForm from './FeedForm.vue';
import { waysInWords } from './ways';
import { useRoute, useRouter } from 'vue-router';
import type { Feed, FeedEdit, FeedWay } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
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
const blank = (way: FeedWay = 'upload'): FeedEdit => ({
  name: '',
  way,
  // A register's service has everything, and changes by the day.
  settings: {
    ...{ schoolId: null, complete: way === 'service', kept: [], everyMinutes: null },
    at: way === 'service' ? '02:00' : null,
  },
});
// A link to connect one opens its form.
const asked = useRoute().query.new;
if (mayEdit.value && (asked === 'service' || asked === 'folder' || asked === 'upload')) edit.value = blank(asked);
const change = (feed: Feed) =>
  (edit.value = {
    id: feed.id,
    name: feed.name,
    way: feed.way,
    settings: JSON.parse(JSON.stringify(feed.settings)) as Feed['settings'],
  });

/** A new one that comes by itself is looked at at once. */
async function saved(id: string): Promise<void> {
  const isNew = edit.value?.id === undefined;
  edit.value = null;
  await feeds.refetch();
  const feed = rows.value.find((one) => one.id === id);
  if (isNew && feed && feed.way !== 'upload') await take(feed);
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
    <FeedForm v-if="edit" :key="edit.id ?? ''" :start="edit" @saved="saved" @cancel="edit = null" />
  </section>
</template>

<style scoped>
li b {
  max-width: 260px;
}
</style>
