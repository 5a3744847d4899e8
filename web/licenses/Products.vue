<script setup lang="ts">
/** Every product with what is owned, needed and held; beside it how the focused one stands over the year. */
import { dayWords } from '@/time';
import { inWords, t } from '@/words';
import More from '@/kit/More.vue';
import Head from '@/kit/Head.vue';
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import LastUses from '@/licenses/LastUses.vue';
import ProductForm from '@/licenses/ProductForm.vue';
import ProductPanel from '@/licenses/ProductPanel.vue';
import type { Product } from '#core/entities/index';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const work = useWork();
const route = useRoute();
const router = useRouter();
const list = useLoad(t('licenses.products2'), 'GET /api/products');
const rows = computed(() => list.data.value?.products ?? []);
const focused = ref<string | null>((route.query.product as string | undefined) ?? null);
/** The one with the worst shortage is looked at first. */
watch(
  rows,
  (all) => {
    if (focused.value && all.some(({ id }) => id === focused.value)) return;
    focused.value = [...all].sort((a, b) => (b.short?.count ?? 0) - (a.short?.count ?? 0))[0]?.id ?? null;
  },
  { immediate: true },
);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const open = ref<'product' | 'uses' | null>(null);
/** The product that is corrected; null: a new one is made. */
const editing = ref<Product | null>(null);
function edit(product: Product | null): void {
  editing.value = product;
  open.value = 'product';
}
const calendar = ref('');
async function showCalendar(): Promise<void> {
  try {
    calendar.value = (await call('POST /api/calendar')).url;
  } catch (error) {
    work.wrong(error);
  }
}
const isDistrict = computed(() => session.may('products.keep'));

async function proposeAll(): Promise<void> {
  try {
    const { jobId } = await call('POST /api/seats/propose', { body: { productIds: [], sweep: false, idleDays: 90 } });
    const { planId } = await work.follow(jobId, t('licenses.planningSeatsOfAllProducts'));
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
const columns: Col[] = [
  { key: 'label', label: t('licenses.product'), width: 'minmax(170px, 1.6fr)', by: 'value' },
  { key: 'owned', label: t('licenses.owned2'), width: '62px', align: 'right', by: 'value' },
  { key: 'needed', label: t('licenses.needed2'), width: '54px', align: 'right', by: 'value' },
  { key: 'held', label: t('licenses.assigned2'), width: '58px', align: 'right', by: 'value' },
  { key: 'lacking', label: t('licenses.missing'), width: '52px', align: 'right', by: 'value' },
  { key: 'short', label: t('licenses.short2'), width: '108px' },
];
const more = computed(() => [
  ...(session.may('calendar') && !calendar.value
    ? [{ label: t('licenses.showCalendarAddress'), run: () => void showCalendar() }]
    : []),
  ...(isDistrict.value ? [{ label: t('licenses.lastUse'), run: () => (open.value = 'uses') }] : []),
]);
</script>

<template>
  <div class="panes">
    <section>
      <ProductForm
        v-if="open === 'product'"
        :key="editing?.id ?? 'new'"
        :products="rows"
        :product="editing"
        @close="open = null"
        @made="(id) => ((focused = id), (open = null))"
      />
      <LastUses v-else-if="open === 'uses'" @close="open = null" />
      <Head :title="t('frame.placeLicenses')" :count="t('licenses.countProducts', { n: rows.length })">
        <template #narrow
          ><a v-if="calendar" :href="calendar" class="clip">{{ calendar }}</a></template
        >
        <template #actions>
          <Button v-if="isDistrict && rows.length > 0" @click="proposeAll">
            {{ t('licenses.assignSeatsOfAllProducts') }}
          </Button>
          <ExportLine v-if="rows.length > 0" list="products" />
          <More v-if="more.length > 0" :items="more" />
          <Button v-if="isDistrict" type="primary" @click="edit(null)">{{ t('licenses.newProduct') }}</Button>
        </template>
      </Head>
      <div class="list-below">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('licenses.products')"
          :row-height="40"
          :rows="rows"
          :columns="columns"
          :empty="t('licenses.noProductsYetAddOne')"
        >
          <template #label="{ row }"
            ><span class="two-lines"
              >{{ row.label }} <span v-if="row.supersededBy" class="quiet">{{ t('licenses.replaced') }}</span></span
            ></template
          >
          <template #owned="{ row }">{{ inWords(row.owned ?? t('licenses.site')) }}</template>
          <template #lacking="{ row }"
            ><span :class="row.lacking ? 'rust' : 'quiet'">{{ row.lacking || '—' }}</span></template
          >
          <template #short="{ row }"
            ><span v-if="row.short" class="rust"
              ><b>{{ row.short.count }}</b> {{ t('licenses.from2', { from: dayWords(row.short.from) }) }}</span
            ><span v-else-if="row.over" class="rust"
              ><b>{{ row.over }}</b> {{ t('licenses.tooManyAssigned') }}</span
            ><span v-else class="quiet">—</span></template
          >
        </Worksheet>
      </div>
    </section>
    <Part v-if="focused" fit class="overflow-auto bg-sheet"><ProductPanel :id="focused" @edit="edit" /></Part>
  </div>
</template>

<style scoped>
.two-lines {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  line-height: 18px;
  white-space: normal;
}
</style>
