<script setup lang="ts">
/** Handouts: login cards for a class or the sheaf, with the sheet as it will be printed, and what was printed before. */
import { useQuery } from '@tanstack/vue-query';
import { Button, Checkbox } from 'ant-design-vue';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import type { HandoutClass } from '../../server/api/contract';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import SheetPreview from '@/handouts/SheetPreview.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { type Paper, papers, sheets } from '#core/cards/index';
import { gradeLabel } from '#core/tabular/values';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const route = useRoute();
const handouts = useQuery({ queryKey: ['handouts'], queryFn: () => call('GET /api/handouts') });
const rows = computed(() =>
  (handouts.data.value?.classes ?? [])
    .filter(
      (c) =>
        (!session.where.school || c.school === session.school?.name) &&
        (!session.where.grade || c.grade === session.where.grade),
    )
    .map((c) => ({ ...c, id: c.classId })),
);
const focused = ref<string | null>((route.query.class as string | undefined) ?? null);
const forSheaf = ref(route.query.sheaf === '1');
watch(
  () => route.query.sheaf,
  (now) => (forSheaf.value = now === '1'),
);
const chosen = computed<HandoutClass | null>(() => rows.value.find(({ id }) => id === focused.value) ?? null);
const paper = ref<Paper>(navigator.language === 'en-US' ? 'Letter' : 'A4');
const voidOlder = ref(false);
const onlyOutdated = ref(false);
const people = useQuery({
  queryKey: [
    'handouts',
    'people',
    computed(() => (forSheaf.value ? 'sheaf' : (chosen.value?.classId ?? ''))),
    onlyOutdated,
    computed(() => sheaf.version),
    computed(() => sheaf.state.count),
  ],
  queryFn: () =>
    call('GET /api/people', {
      query: {
        ...(forSheaf.value ? { gathered: true } : { classId: chosen.value!.classId }),
        role: 'student',
        lacks: onlyOutdated.value ? 'card' : undefined,
        limit: 1000,
      },
    }),
  enabled: computed(() => forSheaf.value || chosen.value !== null),
  placeholderData: (before) => before,
});
const cards = computed(() => (forSheaf.value || chosen.value ? (people.data.value?.rows ?? []) : []));
const what = computed(() =>
  forSheaf.value ? `the ${sheaf.state.count} gathered` : chosen.value ? `class ${chosen.value.name}` : '',
);
const pages = computed(() => sheets(cards.value.length).length);

const sheet = ref<WorksheetHandle | null>(null);
const printButton = ref<HTMLElement | null>(null);
onMounted(() => (forSheaf.value ? printButton.value?.focus() : sheet.value?.focus()));
const busy = ref(false);
const lastPrint = ref<string | null>(null);
async function print(): Promise<void> {
  if (busy.value || cards.value.length === 0) return;
  busy.value = true;
  try {
    const body = {
      ...(forSheaf.value ? { sheaf: true } : { classId: chosen.value!.classId }),
      onlyOutdated: onlyOutdated.value,
      paper: paper.value,
      voidOlder: voidOlder.value,
    };
    const { jobId, cards: count } = await call('POST /api/prints', { body });
    const { printId } = await work.follow(jobId, `Drawing ${count} cards`);
    lastPrint.value = printId ?? null;
    const open = () => window.open(`/api/prints/${printId}/pdf`, '_blank');
    work.say(
      `${count} cards are ready on ${sheets(count).length} ${sheets(count).length === 1 ? 'sheet' : 'sheets'}. Who printed them, for whom and when is recorded.`,
      { label: 'Open the PDF', run: open },
    );
    open();
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    busy.value = false;
  }
}
useCarryOut(print);
const columns: Col[] = [
  { key: 'name', label: 'Class', width: 'minmax(70px, 1fr)' },
  { key: 'school', label: 'School', width: 'minmax(110px, 1.4fr)' },
  { key: 'grade', label: 'Gr', width: '32px', align: 'right' },
  { key: 'students', label: 'Students', width: '66px', align: 'right' },
  { key: 'missing', label: 'No card', width: '62px', align: 'right' },
  { key: 'outdated', label: 'No longer holds', width: '108px', align: 'right' },
];
</script>

<template>
  <div class="handouts">
    <section class="left">
      <div class="sheet">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          label="Classes and their cards"
          :rows="rows"
          :columns="columns"
          empty="No class has students with an account yet."
          @focus="forSheaf = false"
          @open="print"
        >
          <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
          <template #missing="{ row }"
            ><span :class="row.missing ? 'rust' : 'quiet'">{{ row.missing || '—' }}</span></template
          >
          <template #outdated="{ row }"
            ><span :class="row.outdated ? 'rust' : 'quiet'">{{ row.outdated || '—' }}</span></template
          >
        </Worksheet>
      </div>
      <section class="prints" aria-label="Printed before">
        <h2>Printed before</h2>
        <ul>
          <li v-for="p in handouts.data.value?.prints" :key="p.id">
            <span class="quiet">{{ p.at.slice(0, 16).replace('T', ' ') }}</span><span class="grow clip"
              >{{ p.cards }} cards, {{ p.what }}, {{ p.paper }}</span
            ><span class="quiet">{{ p.by }}</span
            ><a v-if="p.canFetch" :href="`/api/prints/${p.id}/pdf`" target="_blank">open</a>
          </li>
        </ul>
        <p v-if="handouts.data.value?.prints.length === 0" class="quiet">Nothing yet.</p>
      </section>
    </section>
    <section class="right" aria-label="Print">
      <div class="choices">
        <h1>Login cards{{ what ? ` for ${what}` : '' }}</h1>
        <p v-if="forSheaf && !onlyOutdated && cards.length < sheaf.state.count" class="quiet">
          {{ sheaf.state.count - cards.length }} of them are staff, who sign in with a password of their own.
        </p>
        <div class="row wrap">
          <label
            >paper
            <select v-model="paper" class="pick">
              <option v-for="(_, key) in papers" :key="key" :value="key">{{ key }}</option>
            </select></label
          >
          <Checkbox v-model:checked="onlyOutdated">only those without a card that holds</Checkbox>
          <Checkbox v-model:checked="voidOlder">make older cards void</Checkbox>
        </div>
        <div class="row">
          <button ref="printButton" class="print" type="button" :disabled="cards.length === 0 || busy" @click="print">
            {{
              cards.length > 0
                ? `Print ${cards.length} ${cards.length === 1 ? 'card' : 'cards'} on ${pages} ${pages === 1 ? 'sheet' : 'sheets'}`
                : 'Choose a class, or gather people'
            }}
            <kbd v-if="cards.length">Ctrl+Enter</kbd>
          </button>
          <Button v-if="sheaf.state.count > 0 && !forSheaf" @click="forSheaf = true"
            >Take the {{ sheaf.state.count }} gathered</Button
          >
          <a v-if="lastPrint" id="last-print" :href="`/api/prints/${lastPrint}/pdf`" target="_blank">the last print</a>
        </div>
      </div>
      <div class="preview"><SheetPreview :paper="paper" :people="cards.slice(0, 8)" /></div>
    </section>
  </div>
</template>

<style scoped>
.handouts {
  display: flex;
  min-height: 0;
}
.left {
  flex: 1.1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  border-right: 1px solid var(--rule);
}
.sheet {
  flex: 1;
  min-height: 0;
}
.prints {
  flex: none;
  max-height: 180px;
  overflow: auto;
  padding: 8px 16px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
.prints li {
  display: flex;
  gap: 12px;
  padding: 2px 0;
}
.right {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.choices {
  padding: 12px 16px;
  display: grid;
  gap: 10px;
  border-bottom: 1px solid var(--rule);
}
.wrap {
  flex-wrap: wrap;
  gap: 4px 16px;
}
.print {
  font: inherit;
  font-weight: 650;
  background: var(--stem);
  color: var(--on-stem);
  border: 0;
  border-radius: 2px;
  padding: 0 14px;
  height: 32px;
  cursor: pointer;
}
.print:disabled {
  background: var(--fog);
  color: var(--quiet);
  cursor: default;
}
.print kbd {
  color: inherit;
  margin-left: 6px;
}
.preview {
  flex: 1;
  min-height: 0;
  padding: 16px;
  display: flex;
  justify-content: center;
  background: var(--fog);
}
</style>
