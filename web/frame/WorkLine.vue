<script setup lang="ts">
/** Jobs that run, with how far they are; and the last thing that was done or went wrong, in one line. */
import Fold from '@/kit/Fold.vue';
import { locale, t } from '@/words';
import { Button, Progress } from 'ant-design-vue';
import { RouterLink } from 'vue-router';
import { useWork } from '@/stores/work';

const work = useWork();
const share = (done: number, total: number) => (total > 0 ? Math.round((done / total) * 100) : 0);
</script>

<template>
  <div class="work">
    <div
      v-for="{ id, title, job } in work.running"
      :key="id"
      class="line flex items-center gap-12px min-h-34px py-4px px-16px ruled-t bg-sheet"
      role="status"
    >
      <span
        >{{ title }}<template v-if="job?.step"> · {{ job.step }}</template></span
      >
      <Progress
        class="bar w-240px m-0"
        :percent="share(job?.done ?? 0, job?.total ?? 0)"
        :show-info="false"
        size="small"
        :aria-label="title"
      />
      <span class="quiet">{{
        job?.total
          ? t('frame.of', { done: job.done.toLocaleString(locale), total: job.total.toLocaleString(locale) })
          : (job?.status ?? t('frame.waiting'))
      }}</span>
    </div>
    <div
      v-if="work.notice"
      class="line flex items-center gap-12px min-h-34px py-4px px-16px ruled-t bg-sheet"
      :class="work.notice.tone"
      :role="work.notice.tone === 'wrong' ? 'alert' : 'status'"
    >
      <span aria-hidden="true">{{ work.notice.tone === 'wrong' ? '▲' : '■' }}</span>
      <div class="grow">
        {{ work.notice.text }}
        <Fold v-if="work.notice.details?.length" :label="t('frame.conflicts', { details: work.notice.details.length })">
          <ul class="max-h-160px overflow-auto" tabindex="0">
            <li v-for="{ text, by } in work.notice.details" :key="text">
              {{ text
              }}<template v-if="by">
                {{ t('frame.since') }}<RouterLink :to="`/plans/${by.planId}`">{{ by.title }}</RouterLink
                >”)</template
              >
            </li>
          </ul>
        </Fold>
      </div>
      <Button v-if="work.notice.action" size="small" @click="work.notice.action.run">{{
        work.notice.action.label
      }}</Button>
      <Button type="text" size="small" :aria-label="t('frame.closeThisMessage')" @click="work.notice = null">{{
        t('frame.close')
      }}</Button>
    </div>
  </div>
</template>

<style scoped>
.line.said > span:first-child {
  color: var(--stem);
}
.line.wrong {
  background: var(--rust-wash);
}
.line.wrong > span:first-child {
  color: var(--rust);
}
</style>
