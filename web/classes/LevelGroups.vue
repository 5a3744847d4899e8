<script setup lang="ts">
/** Groups of a class proposed by the levels that a product reports, looked at before they are made. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import { computed, reactive } from 'vue';
import type { ClassRow, LevelOrder } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import type { Band } from '#core/use/index';
import { bandLabels } from '@/use/bands';
import { useLoad } from '@/kit/load';

const props = defineProps<{ one: ClassRow }>();
const emit = defineEmits<{ close: []; made: [planId: string, sentence: string] }>();
const work = useWork();
const levels = useLoad(t('classes.readingLevels'), 'GET /api/levels', () => ({ query: { classId: props.one.id } }));
const skills = computed(() => levels.data.value?.skills ?? []);
const form = reactive({ skill: 0, how: 'alike' as LevelOrder['how'], groups: 3 });
const order = computed((): LevelOrder | null => {
  const of = skills.value[form.skill];
  const groups = Number(form.groups);
  if (!of || !(groups >= 2 && groups <= 12)) return null;
  return { classId: props.one.id, productId: of.productId, skill: of.skill, how: form.how, groups };
});
const proposal = useLoad(t('classes.thePreview'), 'POST /api/levels/preview', () => ({ body: order.value! }), {
  enabled: () => order.value !== null,
  alone: true,
  retry: false,
});
const groups = computed(() => proposal.data.value?.groups ?? []);
const of = (members: { band: Band | null }[]) =>
  ([1, 2, 3, null] as (Band | null)[])
    .map(
      (band) =>
        [
          band === null ? t('classes.notReported') : bandLabels[band],
          members.filter((m) => m.band === band).length,
        ] as const,
    )
    .filter(([, count]) => count > 0)
    .map(([word, count]) => `${count} ${word}`)
    .join(', ');
async function make(): Promise<void> {
  if (!order.value) return;
  try {
    const { planId, sentence } = await call('POST /api/levels', { body: order.value });
    emit('made', planId, sentence);
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form
    class="grid gap-6px py-4px px-0 text-13px"
    :aria-label="t('classes.groupsByLevel')"
    @submit.prevent="make"
    @keydown.esc.stop="emit('close')"
  >
    <p v-if="levels.isSuccess.value && skills.length === 0" class="quiet">
      {{ t('classes.noProductHasReportedA') }}
      <Button type="text" size="small" @click="emit('close')">{{ t('common.back') }}</Button>
    </p>
    <template v-else>
      <label
        >{{ t('classes.by') }}
        <Choice v-model:value="form.skill">
          <SelectOption v-for="(s, i) in skills" :key="i" :value="i">
            {{ t('classes.reported', { skill: s.skill, product: s.product, people: s.people }) }}
          </SelectOption>
        </Choice></label
      >
      <div class="row">
        <label class="row"
          ><Choice v-model:value="form.how" :aria-label="t('classes.alikeOrMixed')">
            <SelectOption value="alike">{{ t('classes.alike') }}</SelectOption>
            <SelectOption value="mixed">{{ t('classes.mixed') }}</SelectOption>
          </Choice></label
        >
        <label class="row"
          ><NumberInput v-model:value="form.groups" class="w-56px" :min="2" :max="12" />
          {{ t('classes.groups') }}</label
        >
      </div>
      <p v-if="proposal.isError.value" class="rust">{{ proposal.error.value?.message }}</p>
      <ul v-else>
        <li v-for="g in groups" :key="g.name">
          <b>{{ g.name }}</b> {{ g.members.length }} <span class="quiet">· {{ of(g.members) }}</span>
          <p class="quiet text-12px">{{ g.members.map((m) => m.label).join('; ') }}</p>
        </li>
      </ul>
      <div class="row">
        <Button html-type="submit" size="small" type="primary" :disabled="!order || groups.length === 0">{{
          t('classes.createGroups', { groups: groups.length })
        }}</Button>
        <Button type="text" size="small" @click="emit('close')">{{ t('common.back') }}</Button>
      </div>
    </template>
  </form>
</template>
