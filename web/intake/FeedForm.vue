<script setup lang="ts">
/** A new feed, or the settings of one: where from, when it is checked, what it is about, which fields it may not change. */
import { spoken, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption, TimePicker } from 'ant-design-vue';
import Fields from '@/kit/Fields.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref } from 'vue';
import { type FeedEdit, keepableFields } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { fieldLabels } from '#core/tabular/fields';
import { useWork } from '@/stores/work';
import { waysInWords } from './ways';

const props = defineProps<{ start: FeedEdit }>();
const emit = defineEmits<{ saved: [id: string]; cancel: [] }>();
const session = useSession();
const work = useWork();
const edit = reactive(JSON.parse(JSON.stringify(props.start)) as FeedEdit);
type Often = 'by-hand' | 'minute' | 'hour' | 'night' | 'day';
const often: Record<Often, string> = {
  'by-hand': t('intake.onlyByHand'),
  night: t('intake.everyNightAt'),
  hour: t('intake.everyHour'),
  minute: t('intake.everyMinute'),
  day: t('intake.onceADay'),
};
const minutes: Record<Often, number | null> = { 'by-hand': null, minute: 1, hour: 60, day: 1440, night: null };
const how = computed<Often>({
  get: () =>
    edit.settings.at
      ? 'night'
      : ((Object.keys(minutes) as Often[]).find((key) => minutes[key] === edit.settings.everyMinutes) ?? 'by-hand'),
  set: (key) => {
    edit.settings.everyMinutes = minutes[key];
    edit.settings.at = key === 'night' ? (edit.settings.at ?? '02:00') : null;
  },
});
/** What is chosen seldom is not offered unless it is set. */
const offered = computed(() => (Object.keys(often) as Often[]).filter((key) => key !== 'day' || how.value === 'day'));
function keep(field: (typeof keepableFields)[number]): void {
  const { settings } = edit;
  settings.kept = settings.kept.includes(field) ? settings.kept.filter((f) => f !== field) : [...settings.kept, field];
}
const busy = ref(false);
async function save(): Promise<void> {
  busy.value = true;
  try {
    const { id } = await call('POST /api/feeds', { body: edit });
    emit('saved', id);
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="px-12px py-4px ruled bg-sheet">
    <Fields :label="t('intake.feeds')" @save="save" @cancel="emit('cancel')">
      <label>{{ t('common.name') }} <TextInput v-model:value="edit.name" required maxlength="200" /></label>
      <label
        >{{ t('intake.from') }}
        <Choice v-model:value="edit.way">
          <SelectOption v-for="(label, way) in waysInWords" :key="way" :value="way">{{ label }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('intake.about2') }}
        <Choice v-model:value="edit.settings.schoolId">
          <SelectOption :value="null">{{ t('intake.theSchoolsItNames2') }}</SelectOption>
          <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <template v-if="edit.way !== 'upload'">
        <label
          >{{ t('intake.checked2') }}
          <Choice v-model:value="how">
            <SelectOption v-for="key in offered" :key="key" :value="key">{{ often[key] }}</SelectOption>
          </Choice></label
        >
        <label v-if="how === 'night'"
          >{{ t('intake.atTime') }}
          <TimePicker
            :value="edit.settings.at ?? undefined"
            value-format="HH:mm"
            format="HH:mm"
            :minute-step="15"
            :allow-clear="false"
            :show-now="false"
            @update:value="(at) => (edit.settings.at = String(at))"
        /></label>
      </template>
      <label v-if="edit.way === 'folder'" class="[grid-column:1/-1]"
        >{{ t('intake.folder') }} <TextInput v-model:value="edit.settings.folder"
      /></label>
      <template v-if="edit.way === 'service'">
        <label class="[grid-column:1/-1]"
          >{{ t('intake.address') }} <TextInput v-model:value="edit.settings.url" type="url"
        /></label>
        <label class="[grid-column:1/-1]"
          >{{ t('intake.tokensFrom') }} <TextInput v-model:value="edit.settings.tokenUrl" type="url"
        /></label>
        <label>{{ t('intake.client') }} <TextInput v-model:value="edit.settings.clientId" /></label>
        <label
          >{{ t('intake.clientSecret') }}
          <TextInput
            v-model:value="edit.secret"
            type="password"
            autocomplete="off"
            :placeholder="edit.id ? t('intake.keepAsItIs') : ''"
        /></label>
      </template>
      <Checkbox v-model:checked="edit.settings.complete" class="[grid-column:1/-1]">{{
        t('intake.completeListStudentsWhoAre')
      }}</Checkbox>
      <fieldset class="[grid-column:1/-1] [border:0] p-0 m-0">
        <legend class="text-13px m-0">{{ t('intake.keptAsTheDistrictHas') }}</legend>
        <Checkbox
          v-for="field in keepableFields"
          :key="field"
          :checked="edit.settings.kept.includes(field)"
          @change="keep(field)"
          >{{ spoken(fieldLabels[field]) }}</Checkbox
        >
      </fieldset>
      <template #actions>
        <Button type="primary" html-type="submit" :loading="busy">{{ t('intake.saveFeed') }}</Button>
        <Button type="text" size="small" @click="emit('cancel')">{{ t('common.back') }}</Button>
      </template>
    </Fields>
  </div>
</template>
