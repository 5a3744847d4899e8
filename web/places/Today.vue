<script setup lang="ts">
/** Today: for a teacher their classes; for coordinators how ready each school is; for both what needs attention. */
import { t } from '@/words';
import { daysBetween } from '#core/time/index';
import { computed } from 'vue';
import { useSession } from '@/stores/session';
import FirstSteps from '@/today/FirstSteps.vue';
import Attention from '@/today/Attention.vue';
import MyClasses from '@/today/MyClasses.vue';
import Readiness from '@/today/Readiness.vue';

const session = useSession();
const days = computed(() => daysBetween(session.me!.today, session.me!.year.begins));
</script>

<template>
  <div class="today p-16px overflow-auto">
    <h1>
      {{
        days > 0 ? t('places.untilSchoolOpens', { days: t('places.countDays', { n: days }) }) : session.me?.year.name
      }}
    </h1>
    <FirstSteps v-if="session.may('settings.change')" />
    <div class="flex flex-wrap gap-y-16px gap-x-32px items-start mt-12px">
      <template v-if="session.may('readiness')"><Attention /><Readiness /></template>
      <template v-else><MyClasses /><Attention /></template>
    </div>
  </div>
</template>
