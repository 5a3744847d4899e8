<script setup lang="ts">
/** What products offer: the list, one that is added or corrected by hand, and a publisher's list taken in. */
import { locale, t } from '@/words';
import { useChange } from '@/kit/change';
import FileInput from '@/kit/FileInput.vue';
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, SelectOption, Textarea } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import type { MaterialFields, MaterialRow } from '../../server/contract';
import { call } from '@/api';
import MaterialForm from './MaterialForm.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { useAgain, useLoad } from '@/kit/load';

const session = useSession();
const work = useWork();
const reload = useAgain();
const isDistrict = computed(() => session.may('materials.keep'));
const typed = ref('');
const q = refDebounced(typed, 120);
const product = ref('');
const query = computed(() => ({ q: q.value || undefined, product: product.value || undefined }));
const list = useLoad(t('materials.materials'), 'GET /api/materials', () => ({ query: query.value }));
const rows = computed(() => list.data.value ?? []);
const products = useLoad(t('materials.products'), 'GET /api/products');
const offered = computed(() => products.data.value?.products ?? []);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());

const form = ref<{ id: string | null; fields: MaterialFields } | null>(null);
const text = ref<string | null>(null);
const problems = ref<{ line: number; message: string }[]>([]);
const box = ref<HTMLElement | null>(null);
const focusFirst = () => nextTick(() => box.value?.querySelector<HTMLElement>('input, select, textarea')?.focus());
function begin(row: MaterialRow | null): void {
  if (!isDistrict.value) return;
  text.value = null;
  const blank = { title: '', kind: 'lesson' as const, lowGrade: null, highGrade: null, subject: null };
  const none = {
    minutes: null,
    needs: null,
    address: '',
    productId: product.value || (products.data.value?.products[0]?.id ?? ''),
  };
  if (row) {
    const { productId, title, kind, lowGrade, highGrade, subject, minutes, needs, address } = row;
    form.value = {
      id: row.id,
      fields: { productId, title, kind, lowGrade, highGrade, subject, minutes, needs, address },
    };
  } else form.value = { id: null, fields: { ...blank, ...none } };
  void focusFirst();
}
function close(): void {
  form.value = null;
  text.value = null;
  problems.value = [];
  sheet.value?.focus();
}
const again = () => reload('GET /api/materials');
const change = useChange(again);
async function keep(): Promise<void> {
  if (!form.value) return;
  const { id, fields } = form.value;
  const body = { id, fields: { ...fields, minutes: Number(fields.minutes) || null } };
  const said = t('materials.is', { title: fields.title, added: id ? t('materials.corrected') : t('materials.added') });
  if (await change(() => call('POST /api/materials', { body }), said)) close();
}
const intoProduct = ref('');
async function read(file: File): Promise<void> {
  text.value = await file.text();
}
async function take(): Promise<void> {
  try {
    const made = await call('POST /api/materials/take', {
      body: { productId: intoProduct.value, text: text.value ?? '' },
    });
    problems.value = made.problems;
    const { planId } = made;
    work.say(
      t('materials.materialsImported', {
        taken: made.taken,
        not: made.problems.length > 0 ? t('materials.linesWereSkipped', { problems: made.problems.length }) : '',
      }),
      planId ? { label: t('common.undo'), run: () => void work.undo(planId).then(again) } : undefined,
    );
    await again();
    if (made.problems.length === 0) close();
  } catch (error) {
    work.wrong(error);
  }
}
function beginTake(): void {
  form.value = null;
  text.value = '';
  intoProduct.value = product.value || (products.data.value?.products[0]?.id ?? '');
  void focusFirst();
}
const gradesOf = ({ lowGrade: low, highGrade: high }: MaterialRow) =>
  low === null && high === null
    ? t('materials.anyGrade')
    : low === high
      ? gradeLabel(low!)
      : `${low ? gradeLabel(low) : ''}–${high ? gradeLabel(high) : ''}`;
const columns: Col[] = [
  { key: 'title', label: t('materials.material'), width: 'minmax(180px, 1.6fr)', by: 'value' },
  { key: 'kind', label: t('materials.kind'), width: '76px', by: 'value' },
  { key: 'product', label: t('materials.product'), width: 'minmax(150px, 1.2fr)', by: 'value' },
  { key: 'grades', label: t('materials.grades'), width: '64px' },
  { key: 'subject', label: t('materials.subject'), width: 'minmax(90px, 0.7fr)', by: 'value' },
  { key: 'minutes', label: t('materials.minutes2'), width: '66px', align: 'right', by: 'value' },
  { key: 'needs', label: t('materials.needs'), width: 'minmax(90px, 0.7fr)' },
  { key: 'set', label: t('materials.class2'), width: '70px', align: 'right' },
];
</script>

<template>
  <div class="materials flex flex-col min-h-0">
    <h1 class="sr">{{ t('places.materials') }}</h1>
    <MaterialForm
      v-if="form"
      :id="form.id"
      v-model:fields="form.fields"
      :products="offered"
      @keep="keep"
      @close="close"
    />
    <form
      v-else-if="text !== null"
      ref="box"
      class="ordering"
      :aria-label="t('materials.importAList')"
      @submit.prevent="take"
      @keydown.esc.stop="close"
    >
      <div class="ask row">
        <h2>{{ t('materials.aPublishersList') }}</h2>
        <label
          >{{ t('materials.from') }}
          <Choice v-model:value="intoProduct">
            <SelectOption v-for="p in offered" :key="p.id" :value="p.id">{{ p.label }}</SelectOption>
          </Choice></label
        >
        <FileInput :label="t('kit.chooseAFile')" accept=".csv,.txt,text/csv" @file="read" />
        <span class="quiet">{{ t('materials.titleKindAddressAndFrom') }}</span>
        <span class="grow" />
        <Button html-type="submit" type="primary" :disabled="!text.trim()">{{ t('materials.import') }}</Button>
        <Button type="text" size="small" @click="close"
          ><span
            >{{ t('common.back') }} <kbd>{{ t('materials.esc') }}</kbd></span
          ></Button
        >
      </div>
      <Textarea
        v-model:value="text"
        class="mono"
        :rows="3"
        :aria-label="t('materials.theListAsCsv')"
        :placeholder="t('materials.titleKindAddressFromGrade')"
      />
      <ul v-if="problems.length > 0" class="rust max-h-96px overflow-auto text-13px">
        <li v-for="p in problems" :key="p.line">{{ t('materials.line', { line: p.line, message: p.message }) }}</li>
      </ul>
    </form>
    <div class="bar">
      <label class="quiet"
        >{{ t('materials.find') }}
        <TextInput v-model:value="typed" type="search" :placeholder="t('materials.titleOrSubject')"
      /></label>
      <label class="quiet"
        >{{ t('materials.from') }}
        <Choice v-model:value="product">
          <SelectOption value="">{{ t('materials.allProducts') }}</SelectOption>
          <SelectOption v-for="p in offered" :key="p.id" :value="p.id">{{ p.label }}</SelectOption>
        </Choice></label
      >
      <span class="grow" />
      <ExportLine list="materials" :filter="query" />
      <span class="quiet"
        ><b>{{ rows.length.toLocaleString(locale) }}</b> {{ t('materials.materials') }}</span
      >
      <template v-if="isDistrict">
        <Button size="small" @click="beginTake">{{ t('materials.aPublishersList') }}</Button>
        <Button size="small" @click="begin(null)">{{ t('materials.newMaterial') }}</Button>
      </template>
    </div>
    <Worksheet
      ref="sheet"
      class="list-below"
      :label="t('materials.materials2')"
      :rows="rows"
      :columns="columns"
      :empty="t('materials.noMaterialsYetImportA')"
      @open="begin"
    >
      <template #grades="{ row }">{{ gradesOf(row) }}</template>
      <template #set="{ row }"
        ><span v-if="row.set">{{ t('classes.countClasses', { n: row.set }) }}</span
        ><span v-else class="quiet">—</span></template
      >
    </Worksheet>
  </div>
</template>

<style scoped>
textarea {
  width: 100%;
  margin-top: 8px;
}
</style>
