<script setup lang="ts">
/** What leads from an empty district to the first printed card. */
import { t } from '@/words';
import { Step, Steps } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { useLoad } from '@/kit/load';
import { usePlace } from './place';

const place = usePlace();
const today = useLoad(t('today.today'), 'GET /api/today', () => ({ query: place.value }));
const steps = computed(() => today.data.value?.steps ?? []);
const next = computed(() => steps.value.find(({ done }) => !done)?.id);
</script>

<template>
  <section v-if="steps.length > 0" class="mt-12px max-w-640px">
    <h2>{{ t('today.firstSteps') }}</h2>
    <Steps direction="vertical" size="small" class="mt-8px">
      <Step
        v-for="step in steps"
        :key="step.id"
        disabled
        :title="step.text"
        :status="step.done ? 'finish' : step.id === next ? 'process' : 'wait'"
      >
        <template #description>
          <p v-if="step.hint && !step.done">{{ step.hint }}</p>
          <p v-if="step.done" class="quiet">{{ t('today.stepDone') }}</p>
          <p v-else class="row">
            <RouterLink v-for="way in step.to" :key="way.to" :to="way.to" class="inline-block min-h-24px">{{
              way.text
            }}</RouterLink>
          </p>
        </template>
      </Step>
    </Steps>
  </section>
</template>
