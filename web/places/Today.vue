<script setup lang="ts">
/** Today: for a teacher their classes; for coordinators how ready each school is; for both what needs attention. */
import { t } from '@/words';
import { daysBetween } from '#core/time/index';
import { computed } from 'vue';
import { useSession } from '@/stores/session';
import Attention from '@/today/Attention.vue';
import MyClasses from '@/today/MyClasses.vue';
import Readiness from '@/today/Readiness.vue';

const session = useSession();
const days = computed(() => daysBetween(session.me!.today, session.me!.year.begins));
</script>

<template>
  <div class="today">
    <h1>
      {{
        days > 0 ? t('places.untilSchoolOpens', { days: t('places.countDays', { n: days }) }) : session.me?.year.name
      }}
    </h1>
    <div class="parts">
      <template v-if="session.may('readiness')"><Attention /><Readiness /></template>
      <template v-else><MyClasses /><Attention /></template>
    </div>
  </div>
</template>

<style scoped>
.today {
  padding: 16px;
  overflow: auto;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 16px 32px;
  align-items: flex-start;
  margin-top: 12px;
}
</style>
