<script setup lang="ts">
/** Handouts: cards, badges, strips, labels and lists for a class or the sheaf, with the sheet as it will be printed, and what was printed before. */
import { t } from '@/words';
import { Alert, Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import type { HandoutClass, PrintRequest } from '../../server/contract';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { usePrintForm } from '@/handouts/form';
import { pieces, requestOf, usePrint } from '@/handouts/print';
import PrintChoices from '@/handouts/PrintChoices.vue';
import PrintHistory from '@/handouts/PrintHistory.vue';
import SheetPreview from '@/handouts/SheetPreview.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { gradeLabel } from '#core/tabular/values';
import { onShown, useLoad } from '@/kit/load';

const session = useSession();
const sheaf = useSheaf();
const route = useRoute();
const handouts = useLoad(t('places.handouts'), 'GET /api/handouts');
/** Part of a class’s name. */
const narrow = ref('');
const rows = computed(() =>
  (handouts.data.value?.classes ?? [])
    .filter(
      (c) =>
        c.name.toLocaleLowerCase().includes(narrow.value.trim().toLocaleLowerCase()) &&
        (!session.where.school || c.school === session.school?.name) &&
        (!session.where.grade || c.grade === session.where.grade) &&
        (!session.where.classId || c.classId === session.where.classId || c.classId === route.query.class),
    )
    .map((c) => ({ ...c, id: c.classId })),
);
const focused = ref<string | null>((route.query.class as string | undefined) ?? null);
const forSheaf = ref(route.query.sheaf === '1');
watch(
  () => route.query.sheaf,
  (now) => (forSheaf.value = now === '1'),
);
/** A group, or the new people of a plan, as their page asked; a class or the sheaf takes their place. */
const groupId = ref((route.query.group as string | undefined) ?? null);
const planId = ref((route.query.plan as string | undefined) ?? null);
/** Everyone of the school in the head line, or of all schools; or those whose card is out of date, as Today asked. */
const wide = ref<'all' | 'outdated' | null>(route.query.wide === 'outdated' ? 'outdated' : null);
function choose(sheafToo: boolean, widely: typeof wide.value = null): void {
  forSheaf.value = sheafToo;
  groupId.value = planId.value = null;
  wide.value = widely;
}
const group = useLoad(t('classes.thisGroup'), 'GET /api/groups/:id', () => ({ id: groupId.value! }), {
  enabled: () => groupId.value !== null,
  alone: true,
});
const chosen = computed<HandoutClass | null>(() => rows.value.find(({ id }) => id === focused.value) ?? null);

const form = usePrintForm();
const once = reactive({ voidOlder: false, onlyOutdated: false });
const target = computed(() =>
  forSheaf.value
    ? { sheaf: true }
    : groupId.value
      ? { groupId: groupId.value }
      : planId.value
        ? { planId: planId.value }
        : wide.value
          ? { wide: { school: session.where.school, cards: wide.value } }
          : chosen.value
            ? { classId: chosen.value.classId }
            : null,
);
const request = computed<PrintRequest | null>(() =>
  target.value ? requestOf({ ...target.value, ...once }, form.value) : null,
);
const preview = useLoad(t('places.thePreview'), 'POST /api/prints/preview', () => ({ body: request.value! }), {
  enabled: () => request.value !== null,
  also: computed(() => [sheaf.version, sheaf.state.count]),
  alone: true,
  retry: false,
});
const shown = computed(() => (request.value && !preview.error.value ? (preview.data.value ?? null) : null));
const cards = computed(() => shown.value?.cards ?? 0);
const what = computed(() =>
  forSheaf.value
    ? t('places.theGathered', { count: sheaf.state.count })
    : groupId.value
      ? (group.data.value?.name ?? '')
      : planId.value
        ? t('places.newStudents')
        : wide.value
          ? wide.value === 'outdated'
            ? t('places.outOfDateCards')
            : (session.school?.name ?? t('places.allSchools'))
          : chosen.value
            ? t('places.class2', { name: chosen.value.name })
            : '',
);
const testPage = computed(
  () => `/api/test-page?${new URLSearchParams({ paper: form.value.paper, layout: form.value.layout })}`,
);

const sheet = ref<WorksheetHandle | null>(null);
const printButton = ref<HTMLElement | null>(null);
onShown(() =>
  forSheaf.value || groupId.value || planId.value || wide.value ? printButton.value?.focus() : sheet.value?.focus(),
);
const { print: printFor, busy, lastPrint } = usePrint();
const print = () => (cards.value > 0 && target.value ? printFor({ ...target.value, ...once }) : undefined);
useCarryOut(print);
const columns: Col[] = [
  { key: 'name', label: t('common.class'), width: 'minmax(70px, 1fr)', by: 'value' },
  { key: 'school', label: t('common.school'), width: 'minmax(110px, 1.4fr)', by: 'value' },
  { key: 'grade', label: t('places.grade'), width: '46px', align: 'right', by: 'grade' },
  { key: 'students', label: t('common.students'), width: '66px', align: 'right', by: 'value' },
  { key: 'missing', label: t('places.noCard'), width: '62px', align: 'right', by: 'value' },
  { key: 'outdated', label: t('places.outOfDate'), width: '108px', align: 'right', by: 'value' },
];
</script>

<template>
  <div class="handouts panes">
    <section class="left">
      <div class="bar">
        <TextInput
          v-model:value="narrow"
          type="search"
          :placeholder="t('common.class')"
          :aria-label="t('common.class')"
          @keydown.enter="sheet?.focus()"
        />
      </div>
      <div class="flex-1 min-h-0">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('places.classesAndTheirCards')"
          :rows="rows"
          :columns="columns"
          :empty="t('places.noClassHasStudentsWith')"
          @focus="choose(false)"
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
      <PrintHistory :prints="handouts.data.value?.prints" />
    </section>
    <section class="right" :aria-label="t('common.print')">
      <div class="py-12px px-16px text-13px grid gap-10px ruled-b">
        <h1>{{ t('places.print', { what: what ? ` ${t('places.for', { what })}` : '' }) }}</h1>
        <p v-if="forSheaf && !once.onlyOutdated && shown && cards < sheaf.state.count" class="quiet">
          {{ t('places.ofThemHaveNoPassword', { cards: sheaf.state.count - cards }) }}
        </p>
        <PrintChoices v-model:only-outdated="once.onlyOutdated" v-model:void-older="once.voidOlder" />
        <div class="row flex-wrap gap-y-4px gap-x-16px">
          <Button ref="printButton" type="primary" class="print" :disabled="cards === 0 || busy" @click="print">
            <span
              >{{
                cards > 0
                  ? t('places.printOn', {
                      cards: pieces(form.layout, cards),
                      pages: t('places.countPages', { n: shown!.pages }),
                    })
                  : t('places.chooseAClassOrGather')
              }}
              <kbd v-if="cards">{{ t('places.ctrlEnter') }}</kbd></span
            >
          </Button>
          <Button v-if="sheaf.state.count > 0 && !forSheaf" @click="choose(true)">{{
            t('places.useTheGathered', { count: sheaf.state.count })
          }}</Button>
          <Button v-if="session.isCoordinator && wide !== 'all'" @click="choose(false, 'all')">{{
            session.school ? t('places.wholeSchool') : t('places.wholeDistrict')
          }}</Button>
          <a v-if="lastPrint" id="last-print" :href="`/api/prints/${lastPrint}/pdf`" target="_blank">{{
            t('places.theLastPrint')
          }}</a>
          <span class="grow" />
          <a :href="testPage" target="_blank">{{ t('places.testPageWithRulers') }}</a>
        </div>
        <p v-if="form.layout === 'letters' && session.may('settings.change')" class="quiet">
          {{ t('places.consentHint') }} <RouterLink to="/settings/letters">{{ t('places.toConsent') }}</RouterLink>
        </p>
        <Alert
          v-if="shown && shown.missing.length > 0"
          type="warning"
          show-icon
          role="status"
          :message="
            t('places.missingLetters', {
              letters: [...new Set(shown.missing.flatMap(({ letters }) => letters.split(' ')))].join(' '),
              names: shown.missing.map(({ name }) => name).join(', '),
            })
          "
        />
        <p v-if="preview.error.value && request" class="rust">{{ preview.error.value.message }}</p>
      </div>
      <SheetPreview :shown="shown" />
    </section>
  </div>
</template>
