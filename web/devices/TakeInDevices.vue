<script setup lang="ts">
/** A list of devices, as a file or pasted: its columns as pickers, what would happen beside it, recounted as they change. */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import FileInput from '@/kit/FileInput.vue';
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, SelectOption, Textarea } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { InventoryOrder } from '../../server/contract';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { type DeviceField, deviceFields } from '#core/devices/inventory';
import { onShown, useLoad } from '@/kit/load';

const emit = defineEmits<{ close: [] }>();
const session = useSession();
const work = useWork();
const router = useRouter();
const text = ref('');
const file = ref<InventoryOrder['file']>(null);
const schoolId = ref<string | null>(
  session.where.school ?? (session.me?.schools.length === 1 ? session.me.schools[0]!.id : null),
);
const picked = ref<Record<number, DeviceField | null>>({});
const words: Record<DeviceField, string> = {
  tag: t('devices.tag2'),
  serial: t('devices.serialNumber'),
  model: t('devices.model2'),
  school: t('devices.school'),
  boughtOn: t('devices.bought'),
  warrantyEnds: t('devices.warrantyUntil'),
  updatesEnd: t('devices.updatesUntil2'),
  condition: t('devices.condition2'),
  cart: t('devices.cart2'),
  slot: t('devices.slot'),
  room: t('devices.room'),
};
async function read(chosen: File): Promise<void> {
  const url = await new Promise<string>((done) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as string);
    reader.readAsDataURL(chosen);
  });
  file.value = { name: chosen.name, base64: url.slice(url.indexOf(',') + 1) };
  picked.value = {};
}
const order = computed<InventoryOrder>(() => ({
  file: file.value,
  text: file.value ? '' : text.value,
  schoolId: schoolId.value,
  picked: picked.value,
}));
const asked = refDebounced(order, 200);
const preview = useLoad(t('devices.thePreview'), 'POST /api/inventory/preview', () => ({ body: asked.value }), {
  enabled: () => asked.value.file !== null || asked.value.text.trim() !== '',
  alone: true,
  retry: false,
});
const shown = computed(() => (preview.error.value ? null : (preview.data.value ?? null)));
const changes = computed(() => (shown.value ? shown.value.fresh + shown.value.changed : 0));
function pick(index: number, value: string): void {
  picked.value = {
    ...picked.value,
    [index]: (value || null) as DeviceField | null,
  };
}
async function plan(): Promise<void> {
  if (changes.value === 0) return;
  try {
    const { planId } = await call('POST /api/inventory/plan', { body: order.value });
    emit('close');
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  }
}
useCarryOut(plan, { first: true });
const box = ref<HTMLTextAreaElement | null>(null);
onShown(() => box.value?.focus());
</script>

<template>
  <section class="ordering" :aria-label="t('devices.deviceList')" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>{{ t('devices.deviceList') }}</h2>
      <FileInput :label="t('kit.chooseAFile')" accept=".csv,.txt,.tsv,.xlsx" @file="read" />
      <label
        >{{ t('devices.from') }}
        <Choice v-model:value="schoolId">
          <SelectOption :value="null">{{ t('devices.theSchoolsItNames') }}</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <span class="grow" />
      <Button type="text" size="small" @click="emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('devices.esc') }}</kbd></span
        ></Button
      >
    </div>
    <Textarea
      v-if="!file"
      ref="box"
      v-model:value="text"
      class="mono"
      :rows="3"
      :aria-label="t('devices.theListPasted')"
      :placeholder="t('devices.orPasteCellsWithTheir')"
    />
    <p v-if="preview.error.value" class="rust">{{ preview.error.value.message }}</p>
    <div v-if="shown" class="overflow-auto mt-8px max-h-220px">
      <Figures
        :rows="shown.rows.slice(0, 6)"
        :row-key="(row) => row.line"
        :columns="shown.columns.map((_, i) => ({ key: String(i), title: shown?.headings[i] || String(i + 1) }))"
      >
        <template v-for="(field, i) in shown.columns" :key="i" #[`head-${i}`]>
          <Choice
            :value="field ?? ''"
            :aria-label="t('devices.column', { i: shown.headings[i] || i + 1 })"
            @update:value="(value) => pick(i, value)"
          >
            <SelectOption value="">{{ t('devices.skip') }}</SelectOption>
            <SelectOption v-for="f in deviceFields" :key="f" :value="f">{{ words[f] }}</SelectOption>
          </Choice>
          <div class="quiet">{{ shown.headings[i] }}</div>
        </template>
        <template v-for="(_, i) in shown.columns" :key="i" #[i]="{ row }">{{ row.cells[i] }}</template>
      </Figures>
    </div>
    <div v-if="shown" class="then row" aria-live="polite">
      <p class="grow">
        <b>{{ t('devices.newUpdated', { fresh: shown.fresh, changed: shown.changed }) }}</b>
        {{ t('devices.unchanged', { same: shown.same })
        }}<span v-if="shown.problemCount" class="rust">{{
          `; ${t('devices.countProblems', { n: shown.problemCount })}`
        }}</span>
      </p>
      <Button type="primary" :disabled="changes === 0" @click="plan"
        ><span
          >{{ t('devices.plan', { changes: t('common.countChanges', { n: changes }) }) }}
          <kbd>{{ t('devices.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
    <ul v-if="shown?.problemCount" class="rust max-h-96px overflow-auto text-13px">
      <li v-for="(p, i) in shown.problems" :key="i">{{ t('devices.line', { line: p.line, message: p.message }) }}</li>
    </ul>
  </section>
</template>

<style scoped>
textarea {
  width: 100%;
  margin-top: 8px;
}
</style>
