<script setup lang="ts">
/** What products offer: the list, one that is added or corrected by hand, and a publisher's list taken in. */
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import type { MaterialFields, MaterialRow } from '../../server/contract';
import { call } from '@/api';
import GradeSpan from '@/licenses/GradeSpan.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { materialKinds } from '#core/entities/index';
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
const list = useLoad('materials', 'GET /api/materials', () => ({ query: query.value }));
const rows = computed(() => list.data.value ?? []);
const products = useLoad('products', 'GET /api/products');
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
async function keep(): Promise<void> {
  if (!form.value) return;
  const { id, fields } = form.value;
  const body = { id, fields: { ...fields, minutes: Number(fields.minutes) || null } };
  try {
    const { planId } = await call('POST /api/materials', { body });
    work.say(`${fields.title} is ${id ? 'corrected' : 'added'}.`, {
      label: 'Undo',
      run: () => void work.undo(planId).then(again),
    });
    close();
    await again();
  } catch (error) {
    work.wrong(error);
  }
}
const intoProduct = ref('');
async function read(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) text.value = await file.text();
}
async function take(): Promise<void> {
  try {
    const made = await call('POST /api/materials/take', {
      body: { productId: intoProduct.value, text: text.value ?? '' },
    });
    problems.value = made.problems;
    const { planId } = made;
    work.say(
      `${made.taken} materials are taken in${made.problems.length > 0 ? `; ${made.problems.length} lines are not` : ''}.`,
      planId ? { label: 'Undo', run: () => void work.undo(planId).then(again) } : undefined,
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
    ? 'any'
    : low === high
      ? gradeLabel(low!)
      : `${low ? gradeLabel(low) : ''}–${high ? gradeLabel(high) : ''}`;
const columns: Col[] = [
  { key: 'title', label: 'Material', width: 'minmax(180px, 1.6fr)' },
  { key: 'kind', label: 'Kind', width: '76px' },
  { key: 'product', label: 'Product', width: 'minmax(150px, 1.2fr)' },
  { key: 'grades', label: 'Grades', width: '64px' },
  { key: 'subject', label: 'Subject', width: 'minmax(90px, 0.7fr)' },
  { key: 'minutes', label: 'Minutes', width: '66px', align: 'right' },
  { key: 'needs', label: 'Needs', width: 'minmax(90px, 0.7fr)' },
  { key: 'set', label: 'Set in', width: '70px', align: 'right' },
];
</script>

<template>
  <div class="materials">
    <form
      v-if="form"
      ref="box"
      class="ordering"
      :aria-label="form.id ? 'Correct a material' : 'New material'"
      @submit.prevent="keep"
      @keydown.esc.stop="close"
    >
      <div class="ask row">
        <h2>{{ form.id ? 'Correct it' : 'New material' }}</h2>
        <label>title <input v-model="form.fields.title" class="box" required maxlength="200" /></label>
        <label
          >of
          <select v-model="form.fields.productId" class="pick" required>
            <option v-for="p in products.data.value?.products" :key="p.id" :value="p.id">{{ p.label }}</option>
          </select></label
        >
        <label
          >kind
          <select v-model="form.fields.kind" class="pick">
            <option v-for="k in materialKinds" :key="k" :value="k">{{ k }}</option>
          </select></label
        >
        <GradeSpan v-model:low="form.fields.lowGrade" v-model:high="form.fields.highGrade" />
        <label>subject <input v-model="form.fields.subject" class="box" maxlength="80" /></label>
        <label>minutes <input v-model="form.fields.minutes" class="box few" type="number" min="1" max="6000" /></label>
        <label>needs <input v-model="form.fields.needs" class="box" maxlength="120" placeholder="headphones" /></label>
        <label
          >opens at
          <input v-model="form.fields.address" class="box" type="url" required maxlength="300" placeholder="https://"
        /></label>
        <Button html-type="submit" type="primary">{{ form.id ? 'Keep it' : 'Add the material' }}</Button>
        <button class="plain quiet" type="button" @click="close">Back <kbd>Esc</kbd></button>
      </div>
    </form>
    <form
      v-else-if="text !== null"
      ref="box"
      class="ordering"
      aria-label="Take a list in"
      @submit.prevent="take"
      @keydown.esc.stop="close"
    >
      <div class="ask row">
        <h2>A publisher’s list</h2>
        <label
          >of
          <select v-model="intoProduct" class="pick" required>
            <option v-for="p in products.data.value?.products" :key="p.id" :value="p.id">{{ p.label }}</option>
          </select></label
        >
        <label>file <input type="file" accept=".csv,.txt,text/csv" @change="read" /></label>
        <span class="quiet">title, kind, address; and from grade, to grade, subject, minutes, needs where known</span>
        <span class="grow" />
        <Button html-type="submit" type="primary" :disabled="!text.trim()">Take them in</Button>
        <button class="plain quiet" type="button" @click="close">Back <kbd>Esc</kbd></button>
      </div>
      <textarea
        v-model="text"
        class="box mono"
        rows="3"
        aria-label="The list as CSV"
        placeholder="title,kind,address,from grade,to grade,minutes"
      />
      <ul v-if="problems.length > 0" class="rust">
        <li v-for="p in problems" :key="p.line">line {{ p.line }}: {{ p.message }}</li>
      </ul>
    </form>
    <div class="bar">
      <label class="quiet"
        >find <input v-model="typed" class="pick" type="search" placeholder="title or subject"
      /></label>
      <label class="quiet"
        >of
        <select v-model="product" class="pick">
          <option value="">all products</option>
          <option v-for="p in products.data.value?.products" :key="p.id" :value="p.id">{{ p.label }}</option>
        </select></label
      >
      <span class="grow" />
      <ExportLine list="materials" :filter="query" />
      <span class="quiet"
        ><b>{{ rows.length.toLocaleString('en-US') }}</b> materials</span
      >
      <template v-if="isDistrict">
        <button class="plain dusk" type="button" @click="beginTake">A publisher’s list</button>
        <button class="plain dusk" type="button" @click="begin(null)">New material</button>
      </template>
    </div>
    <Worksheet
      ref="sheet"
      class="list-below"
      label="Materials"
      :rows="rows"
      :columns="columns"
      empty="No material. Products’ lists are taken in here; then teachers set them for their classes."
      @open="begin"
    >
      <template #grades="{ row }">{{ gradesOf(row) }}</template>
      <template #set="{ row }"
        ><span v-if="row.set">{{ row.set }} {{ row.set === 1 ? 'class' : 'classes' }}</span
        ><span v-else class="quiet">—</span></template
      >
    </Worksheet>
  </div>
</template>

<style scoped>
.materials {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.few {
  width: 70px;
}
textarea {
  width: 100%;
  margin-top: 8px;
}
ul {
  max-height: 96px;
  overflow: auto;
  font-size: 13px;
}
</style>
