<script setup lang="ts">
/** The join codes of one class, or of a school's staff: made, shown on the board, ended. */
import { locale, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import { computed, ref } from 'vue';
import { RouterLink } from 'vue-router';
import type { JoinCode } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ classId: string }>();
const work = useWork();
const reload = useAgain();
const list = useLoad(t('joining.joinCodes'), 'GET /api/codes', () => ({ query: { classId: props.classId } }));
const open = computed(() => (list.data.value?.codes ?? []).filter(({ state }) => state !== 'closed'));
const form = ref<{ days: number; usesMost: number; opensInDays: number } | null>(null);
const again = () => reload('GET /api/codes');

async function make(): Promise<void> {
  if (!form.value) return;
  try {
    await call('POST /api/codes', { body: { classId: props.classId, schoolId: null, ...form.value } });
    form.value = null;
    await again();
  } catch (error) {
    work.wrong(error);
  }
}
async function end({ id }: JoinCode): Promise<void> {
  try {
    await call('POST /api/codes/:id/end', { id });
    await again();
  } catch (error) {
    work.wrong(error);
  }
}
/** "1 in 3,700,000" */
const chance = computed(() => {
  const risk = list.data.value?.risk ?? 0;
  return risk > 0 ? t('joining.1In', { Number: Number((1 / risk).toPrecision(2)).toLocaleString(locale) }) : null;
});
</script>

<template>
  <section class="codes">
    <header class="row">
      <h2 class="grow">{{ t('joining.joinCode') }}</h2>
      <Button v-if="!form" size="small" @click="form = { days: 14, usesMost: 40, opensInDays: 0 }">
        {{ t('joining.newCode') }}
      </Button>
    </header>
    <form
      v-if="form"
      class="row flex-wrap text-13px py-4px px-0"
      @submit.prevent="make"
      @keydown.esc.stop="form = null"
    >
      <label
        >{{ t('joining.copyFor') }} <NumberInput v-model:value="form.days" class="w-56px" :min="1" :max="366" />
        {{ t('joining.days') }}</label
      >
      <label
        ><NumberInput v-model:value="form.usesMost" class="w-56px" :min="1" :max="5000" />
        {{ t('joining.uses') }}</label
      >
      <label
        >{{ t('joining.opens') }}
        <Choice v-model:value="form.opensInDays">
          <SelectOption :value="0">{{ t('joining.now') }}</SelectOption>
          <SelectOption :value="1">{{ t('joining.tomorrow') }}</SelectOption>
          <SelectOption :value="3">{{ t('joining.in3Days') }}</SelectOption>
          <SelectOption :value="7">{{ t('joining.inAWeek') }}</SelectOption>
        </Choice></label
      >
      <Button html-type="submit" size="small" type="primary">{{ t('joining.create') }}</Button>
    </form>
    <ul>
      <li v-for="one in open" :key="one.id" class="flex gap-8px items-center text-13px">
        <b class="mono">{{ one.code }}</b>
        <span class="quiet grow"
          >{{ t('joining.ofUntil', { uses: one.uses, usesMost: one.usesMost, closesAt: dayOfWords(one.closesAt) })
          }}<span v-if="one.state === 'full'" class="rust"> {{ t('joining.full') }}</span
          ><span v-if="one.state === 'waits'" class="dusk">
            {{ t('joining.opens2', { opensAt: dayOfWords(one.opensAt) }) }}</span
          ></span
        >
        <RouterLink :to="`/board/${one.id}`">{{ t('joining.showCode') }}</RouterLink>
        <Button type="text" size="small" :aria-label="t('joining.endTheCode', { code: one.code })" @click="end(one)">
          {{ t('common.end') }}
        </Button>
      </li>
    </ul>
    <p v-if="open.length > 0 && chance" class="quiet text-12px">
      {{
        t('joining.chanceThatADayOf', {
          codes:
            list.data.value?.live === 1
              ? t('joining.theOneOpenCode')
              : t('joining.oneOfTheOpenCodes', { live: list.data.value?.live }),
          chance,
        })
      }}
    </p>
    <p v-if="open.length === 0 && !form" class="quiet text-12px">{{ t('joining.noCodeIsOpenWith') }}</p>
  </section>
</template>

<style scoped>
li b {
  font-size: 15px;
}
</style>
