<script setup lang="ts">
/** Who is to be together and who apart: twins, each decided by the family, and pairs that somebody named. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { reactive } from 'vue';
import type { Sections } from './sections';

const props = defineProps<{ sections: Sections }>();
const { children, wishes, twins, labelOf, wish, wishOf } = props.sections;
const pair = reactive({ a: '', b: '' });
function addWish(together: boolean): void {
  if (!pair.a || !pair.b || pair.a === pair.b) return;
  wish(pair.a, pair.b, together);
  Object.assign(pair, { a: '', b: '' });
}
</script>

<template>
  <h2>{{ t('year.togetherAndApart') }}</h2>
  <ul class="justify-self-stretch">
    <li v-for="[a, b] in twins" :key="`${a}${b}`" class="row">
      <span class="grow">{{ t('year.andTwins', { a: labelOf(a), b: labelOf(b) }) }}</span>
      <Choice
        :aria-label="t('year.and', { a: labelOf(a), b: labelOf(b) })"
        :value="wishOf(a, b) === undefined ? '' : wishOf(a, b)!.together ? 'together' : 'apart'"
        @update:value="(how) => wish(a, b, how === '' ? null : how === 'together')"
      >
        <SelectOption value="">{{ t('year.automatic') }}</SelectOption>
        <SelectOption value="together">{{ t('year.togetherAtTheFamilysRequest') }}</SelectOption>
        <SelectOption value="apart">{{ t('year.apartAtTheFamilysRequest') }}</SelectOption>
      </Choice>
    </li>
    <li
      v-for="w in wishes.filter(({ a, b }) => !twins.some(([x, y]) => (x === a && y === b) || (x === b && y === a)))"
      :key="w.a + w.b"
      class="row"
    >
      <span class="grow">{{
        t('year.and2', {
          a: labelOf(w.a),
          b: labelOf(w.b),
          apart: w.together ? t('year.together') : t('year.apart'),
        })
      }}</span>
      <Button
        size="small"
        :aria-label="t('year.removeTheRequestForAnd', { a: labelOf(w.a), b: labelOf(w.b) })"
        @click="wish(w.a, w.b, null)"
      >
        {{ t('year.remove2') }}
      </Button>
    </li>
  </ul>
  <div class="pair flex gap-8px max-w-full items-center">
    <Choice v-model:value="pair.a" class="w-180px" :aria-label="t('year.oneStudent')">
      <SelectOption value="">{{ t('year.one') }}</SelectOption>
      <SelectOption v-for="c in children" :key="c.id" :value="c.id">{{ c.familyName }}, {{ c.givenName }}</SelectOption>
    </Choice>
    <Choice v-model:value="pair.b" class="w-180px" :aria-label="t('year.anotherStudent')">
      <SelectOption value="">{{ t('year.andAnother') }}</SelectOption>
      <SelectOption v-for="c in children" :key="c.id" :value="c.id">{{ c.familyName }}, {{ c.givenName }}</SelectOption>
    </Choice>
    <Button size="small" :disabled="!pair.a || !pair.b || pair.a === pair.b" @click="addWish(true)">{{
      t('year.together2')
    }}</Button>
    <Button size="small" :disabled="!pair.a || !pair.b || pair.a === pair.b" @click="addWish(false)">{{
      t('year.apart2')
    }}</Button>
  </div>
</template>

<style scoped>
.pair .choice {
  min-width: 0;
  flex: 1;
}
</style>
