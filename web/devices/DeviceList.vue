<script setup lang="ts">
/** The worksheet of devices, with facets; beside it the focused one with everyone who had it. */
import { dayWords } from '@/time';
import { t } from '@/words';
import { CloseOutlined } from '@ant-design/icons-vue';
import { Button } from 'ant-design-vue';
import { computed, onMounted, reactive, ref, watch } from 'vue';
import type { DeviceFilter, DeviceWhere } from '../../server/contract';
import { useSession } from '@/stores/session';
import ExportLine from '@/worksheet/ExportLine.vue';
import { usePrintForm } from '@/handouts/form';
import Facets from '@/worksheet/Facets.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import DeviceSheet from './DeviceSheet.vue';
import TakeInDevices from './TakeInDevices.vue';
import Head from '@/kit/Head.vue';
import More from '@/kit/More.vue';
import { useQuery } from '@/kit/query';
import { useLoad, usePages } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const query = useQuery();
const local = reactive({
  model: query.text('model'),
  where: query.choice<DeviceWhere>('where', ['out', 'free', 'late', 'repair', 'missing']),
  q: query.text('q'),
});
const filter = computed<DeviceFilter>(() => ({
  school: session.where.school ?? undefined,
  model: local.model ?? undefined,
  where: local.where ?? undefined,
  q: local.q ?? undefined,
}));
const list = usePages(
  t('devices.devices'),
  'GET /api/devices',
  (after) => ({ query: { ...filter.value, after, limit: 300 } }),
  ({ next }) => next,
);
const facets = useLoad(t('devices.filters2'), 'GET /api/devices/facets', () => ({ query: filter.value }));
const rows = computed(() => list.data.value?.pages.flatMap((page) => page.rows) ?? []);
const focused = ref<string | null>(null);
const open = ref(false);
/** One that was found from elsewhere. */
const asked = query.text('open');
watch(
  asked,
  (id) => {
    if (id === null) return;
    [focused.value, open.value, asked.value] = [id, true, null];
  },
  { immediate: true },
);
const taking = ref(false);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
/** On the paper of the last print. */
const form = usePrintForm();
const labels = (code: 'bars' | 'qr') => () => {
  const pairs = Object.entries(filter.value).filter(([, value]) => value !== undefined) as [string, string][];
  window.open(`/api/labels?${new URLSearchParams([...pairs, ['code', code], ['paper', form.value.paper]])}`);
};
const more = [
  { label: t('devices.printLabelsWithBarcodes'), run: labels('bars') },
  { label: t('devices.printLabelsWithQr'), run: labels('qr') },
];
const columns: Col[] = [
  { key: 'tag', label: t('devices.tag'), width: '84px', mono: true },
  { key: 'model', label: t('devices.model'), width: 'minmax(100px, 1fr)' },
  { key: 'school', label: t('common.school'), width: 'minmax(100px, 1fr)' },
  { key: 'holder', label: t('devices.holder'), width: 'minmax(112px, 1.5fr)' },
  { key: 'place', label: t('devices.staysIn'), width: 'minmax(116px, 1fr)' },
  { key: 'condition', label: t('devices.condition'), width: '92px' },
  { key: 'updatesEnd', label: t('devices.updatesUntil'), width: '104px' },
];
</script>

<template>
  <div class="split">
    <section class="facets wider" :aria-label="t('devices.filters')">
      <template v-if="facets.data.value">
        <Facets
          :title="t('common.school')"
          :facets="facets.data.value.school"
          :chosen="session.where.school"
          @choose="session.go({ school: $event })"
        />
        <Facets
          :title="t('devices.where')"
          :facets="facets.data.value.where"
          :chosen="local.where"
          @choose="local.where = $event as DeviceWhere | null"
        />
        <Facets
          :title="t('devices.model')"
          :facets="facets.data.value.model"
          :chosen="local.model"
          @choose="local.model = $event"
        />
      </template>
    </section>
    <section class="middle">
      <Part v-if="taking" fit><TakeInDevices @close="taking = false" /></Part>
      <Head :title="t('devices.devices2')" :count="t('devices.countDevices', { n: facets.data.value?.total ?? 0 })">
        <template #narrow>
          <Button v-if="local.q" size="small" class="chip" @click="local.q = null"
            >{{ t('places.whoMatch', { q: local.q }) }} <CloseOutlined :aria-label="t('places.removeThisFilter')"
          /></Button>
        </template>
        <template #actions>
          <ExportLine list="devices" :filter="filter" />
          <More :items="more" />
          <Button v-if="!taking" type="primary" @click="taking = true">{{ t('devices.importAList') }}</Button>
        </template>
      </Head>
      <div class="list-below">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('devices.devices2')"
          name="devices"
          :rows="rows"
          :total="facets.data.value?.total"
          :columns="columns"
          :empty="t('devices.noDevicesHereYetImport')"
          @open="open = true"
          @more="list.fetchNextPage()"
          @keydown.esc="open = false"
        >
          <template #holder="{ row }"
            ><span v-if="row.holder">{{ row.holder }}</span
            ><span v-if="row.late" class="rust"> {{ t('devices.dueBack', { due: row.due }) }}</span></template
          >
          <template #place="{ row }"
            ><span class="quiet">{{
              row.cart ? `${row.cart}${row.slot ? `, ${row.slot}` : ''}` : (row.room ?? t('devices.theStockroom'))
            }}</span></template
          >
          <template #condition="{ row }"
            ><span :class="{ rust: !['good', 'worn'].includes(row.condition), quiet: row.condition === 'good' }">{{
              t('devices.conditionWord', { condition: row.condition })
            }}</span></template
          >
          <template #updatesEnd="{ row }"
            ><span :class="row.updatesEnd && row.updatesEnd <= session.me!.today ? 'rust' : 'quiet'">{{
              row.updatesEnd ? dayWords(row.updatesEnd) : '—'
            }}</span></template
          >
        </Worksheet>
      </div>
    </section>
    <Part v-if="open && focused" fit
      ><DeviceSheet
        :id="focused"
        @close="
          open = false;
          sheet?.focus();
        "
    /></Part>
  </div>
</template>
