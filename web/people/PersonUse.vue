<script setup lang="ts">
/** What products tell of one student: minutes lately, last results, skills reached and not yet, words missed. */
import { t } from '@/words';
import { useLoad } from '@/kit/load';
import { dayWords, dayOfWords } from '@/time';
import { bandLabels } from '@/use/bands';

const props = defineProps<{ id: string }>();
const use = useLoad(t('people.usage'), 'GET /api/people/:id/use', () => ({ id: props.id }));
</script>

<template>
  <section v-if="use.data.value">
    <h2>{{ t('people.usage') }}</h2>
    <p v-if="use.data.value.products.length === 0" class="quiet">{{ t('people.noUsageReported') }}</p>
    <ul>
      <li v-for="p in use.data.value.products" :key="p.productId">
        {{ p.label }}
        <span class="quiet">{{
          p.minutes > 0
            ? t('people.minutesOnDays', { minutes: p.minutes, days: p.days, since: dayWords(use.data.value!.since) })
            : p.lastOn
              ? t('people.lastUsed', { day: dayWords(p.lastOn) })
              : t('people.notUsed')
        }}</span>
      </li>
    </ul>
    <template v-if="use.data.value.results.length > 0">
      <h3 class="quiet">{{ t('people.lastResults') }}</h3>
      <ul>
        <li v-for="r in use.data.value.results" :key="`${r.title} ${r.at}`">
          {{ r.title }}
          <span class="quiet">{{
            [
              r.share === null ? null : `${Math.round(r.share * 100)}%`,
              r.minutes === null ? null : t('people.minutesEach', { minutes: r.minutes }),
              dayOfWords(r.at),
            ]
              .filter(Boolean)
              .join(' · ')
          }}</span>
        </li>
      </ul>
    </template>
    <template v-if="use.data.value.skills.length > 0">
      <h3 class="quiet">{{ t('people.skills') }}</h3>
      <ul>
        <li v-for="s in use.data.value.skills" :key="`${s.product} ${s.skill}`">
          {{ s.skill }}
          <span :class="s.band === 1 ? 'rust' : 'quiet'"
            >{{ bandLabels[s.band] }} · {{ s.product }} · {{ dayWords(s.seenOn) }}</span
          >
        </li>
      </ul>
    </template>
    <template v-if="use.data.value.words.length > 0">
      <h3 class="quiet">{{ t('people.wordsMissed') }}</h3>
      <ul>
        <li v-for="w in use.data.value.words" :key="`${w.product} ${w.word}`">
          {{ w.word }}
          <span class="quiet">{{
            t('people.missedTimes', { times: w.times, product: w.product, day: dayOfWords(w.lastAt) })
          }}</span>
        </li>
      </ul>
    </template>
  </section>
</template>
