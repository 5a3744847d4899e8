<script setup lang="ts">
/** A list of devices, as a file or pasted: its columns as pickers, what would happen beside it, recounted as they change. */
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
  tag: 'tag',
  serial: 'serial number',
  model: 'model',
  school: 'school',
  boughtOn: 'bought',
  warrantyEnds: 'warranty until',
  updatesEnd: 'updates until',
  condition: 'condition',
  cart: 'cart',
  slot: 'slot',
  room: 'room',
};
async function read(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0];
  if (!chosen) return;
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
const preview = useLoad('the preview', 'POST /api/inventory/preview', () => ({ body: asked.value }), {
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
  <section class="ordering" aria-label="A list of devices" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>A list of devices</h2>
      <label>file <input type="file" accept=".csv,.txt,.tsv,.xlsx" @change="read" /></label>
      <label
        >of
        <Choice v-model:value="schoolId">
          <SelectOption :value="null">the schools that it names</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <span class="grow" />
      <Button type="text" size="small" @click="emit('close')"
        ><span>Back <kbd>Esc</kbd></span></Button
      >
    </div>
    <Textarea
      v-if="!file"
      ref="box"
      v-model:value="text"
      class="mono"
      :rows="3"
      aria-label="The list, pasted"
      placeholder="or paste cells with their headings: tag, serial, model, bought, updates until, condition, school, cart, slot, room"
    />
    <p v-if="preview.error.value" class="rust">{{ preview.error.value.message }}</p>
    <div v-if="shown" class="cells">
      <table>
        <thead>
          <tr>
            <th v-for="(field, i) in shown.columns" :key="i" scope="col">
              <Choice
                :value="field ?? ''"
                :aria-label="`Column ${shown.headings[i] || i + 1}`"
                @update:value="(value) => pick(i, value)"
              >
                <SelectOption value="">skip</SelectOption>
                <SelectOption v-for="f in deviceFields" :key="f" :value="f">{{ words[f] }}</SelectOption>
              </Choice>
            </th>
          </tr>
          <tr class="quiet">
            <th v-for="(heading, i) in shown.headings" :key="i" scope="col">{{ heading }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown.rows.slice(0, 6)" :key="row.line">
            <td v-for="(_, i) in shown.columns" :key="i">{{ row.cells[i] }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-if="shown" class="then row" aria-live="polite">
      <p class="grow">
        <b>{{ shown.fresh }} new, {{ shown.changed }} changed,</b> {{ shown.same }} the same<span
          v-if="shown.problemCount"
          class="rust"
          >; {{ shown.problemCount }} {{ shown.problemCount === 1 ? 'problem' : 'problems' }}</span
        >
      </p>
      <Button type="primary" :disabled="changes === 0" @click="plan"
        ><span>Plan {{ changes }} {{ changes === 1 ? 'change' : 'changes' }} <kbd>Ctrl+Enter</kbd></span></Button
      >
    </div>
    <ul v-if="shown?.problemCount" class="rust problems">
      <li v-for="(p, i) in shown.problems" :key="i">line {{ p.line }}: {{ p.message }}</li>
    </ul>
  </section>
</template>

<style scoped>
textarea {
  width: 100%;
  margin-top: 8px;
}
.cells {
  overflow: auto;
  margin-top: 8px;
  max-height: 220px;
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th {
  font-weight: 400;
  text-align: left;
}
td,
th {
  padding: 1px 12px 1px 0;
  white-space: nowrap;
}
.problems {
  max-height: 96px;
  overflow: auto;
  font-size: 13px;
}
</style>
