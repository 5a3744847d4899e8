<script setup lang="ts">
/** Handouts: cards, badges, strips, labels and lists for a class or the sheaf, with the sheet as it will be printed, and what was printed before. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { useLocalStorage } from '@vueuse/core';
import { Button, Checkbox, SelectOption, Slider } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import type { HandoutClass, PrintRequest } from '../../server/contract';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { usePrintForm } from '@/handouts/form';
import { pieces, requestOf, usePrint } from '@/handouts/print';
import SheetView from '@/handouts/SheetView.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { momentWords } from '@/time';
import { isCard, languages, type Layout, papers } from '#core/cards/index';
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
function choose(sheafToo: boolean): void {
  forSheaf.value = sheafToo;
  groupId.value = planId.value = null;
}
const group = useLoad(t('classes.thisGroup'), 'GET /api/groups/:id', () => ({ id: groupId.value! }), {
  enabled: () => groupId.value !== null,
  alone: true,
});
const chosen = computed<HandoutClass | null>(() => rows.value.find(({ id }) => id === focused.value) ?? null);

const form = usePrintForm();
const once = reactive({ voidOlder: false, onlyOutdated: false });
const layoutWords: Record<Layout, string> = {
  cards: t('places.cardsEightToASheet'),
  badges: t('places.badgesTheSizeOfA'),
  strips: t('places.stripsCutStraightAcross'),
  labels: t('places.labelsWithoutPasswords'),
  list: t('places.binderList'),
};
const target = computed(() =>
  forSheaf.value
    ? { sheaf: true }
    : groupId.value
      ? { groupId: groupId.value }
      : planId.value
        ? { planId: planId.value }
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
        : chosen.value
          ? t('places.class2', { name: chosen.value.name })
          : '',
);
/** Which side of the first sheet is looked at. */
const side = ref(0);
const sheetShown = computed(() => shown.value?.sheets[Math.min(side.value, shown.value.sheets.length - 1)] ?? null);
const hasBack = computed(
  () => form.value.backs !== '' && (form.value.layout === 'cards' || form.value.layout === 'badges'),
);
/** Pixels to a millimetre of this screen, told by a person who laid a ruler on it; 96 to an inch without that. */
const scale = useLocalStorage('true-size', 96 / 25.4);
const actual = ref(false);
const testPage = computed(
  () => `/api/test-page?${new URLSearchParams({ paper: form.value.paper, layout: form.value.layout })}`,
);

const sheet = ref<WorksheetHandle | null>(null);
const printButton = ref<HTMLElement | null>(null);
onShown(() => (forSheaf.value || groupId.value || planId.value ? printButton.value?.focus() : sheet.value?.focus()));
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
      <div class="sheet">
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
      <section class="prints" :aria-label="t('places.printHistory')">
        <h2>{{ t('places.printHistory') }}</h2>
        <ul>
          <li v-for="p in handouts.data.value?.prints" :key="p.id">
            <span class="quiet">{{ momentWords(p.at) }}</span><span class="grow clip">{{
              t('places.cards', { cards: p.cards, what: p.what, paper: p.paper })
            }}</span
            ><span class="quiet">{{ p.by }}</span
            ><a v-if="p.canFetch" :href="`/api/prints/${p.id}/pdf`" target="_blank">{{ t('places.open') }}</a>
          </li>
        </ul>
        <p v-if="handouts.data.value?.prints.length === 0" class="quiet">{{ t('places.nothingYet') }}</p>
      </section>
    </section>
    <section class="right" :aria-label="t('common.print')">
      <div class="choices">
        <h1>{{ t('places.print', { what: what ? ` ${t('places.for', { what })}` : '' }) }}</h1>
        <p v-if="forSheaf && !once.onlyOutdated && shown && cards < sheaf.state.count" class="quiet">
          {{ t('places.ofThemHaveNoPassword', { cards: sheaf.state.count - cards }) }}
        </p>
        <div class="row wrap">
          <label
            >{{ t('places.layout') }}
            <Choice v-model:value="form.layout">
              <SelectOption v-for="(words, key) in layoutWords" :key="key" :value="key">{{ words }}</SelectOption>
            </Choice></label
          >
          <label
            >{{ t('places.paper') }}
            <Choice v-model:value="form.paper">
              <SelectOption v-for="(_, key) in papers" :key="key" :value="key">{{ key }}</SelectOption>
            </Choice></label
          >
          <label v-if="form.layout === 'cards' || form.layout === 'badges'"
            >{{ t('places.backs') }}
            <Choice v-model:value="form.backs">
              <SelectOption value="">{{ t('common.none') }}</SelectOption>
              <SelectOption value="long">{{ t('places.flippedOnTheLongEdge') }}</SelectOption>
              <SelectOption value="short">{{ t('places.flippedOnTheShortEdge') }}</SelectOption>
            </Choice></label
          >
          <label v-if="form.layout === 'labels'"
            >{{ t('places.labelsAlreadyUsedOnThe') }}
            <NumberInput
              v-model:value="form.skip"
              class="small"
              :min="0"
              :max="100"
              :aria-label="t('places.labelsAlreadyUsed')"
          /></label>
          <label v-if="form.layout !== 'labels' && form.layout !== 'list'"
            >{{ t('places.secondLanguage') }}
            <Choice v-model:value="form.language">
              <SelectOption value="">{{ t('places.theFamilysLanguageWhereIt') }}</SelectOption>
              <SelectOption v-for="(name, key) in languages" :key="key" :value="key">{{ name }}</SelectOption>
            </Choice></label
          >
        </div>
        <div v-if="isCard(form.layout)" class="row wrap">
          <Checkbox v-model:checked="form.stacked"> {{ t('places.inClassOrderAfterCutting') }}</Checkbox>
          <Checkbox v-model:checked="form.large"> {{ t('places.largeGivenNamesUpTo') }}</Checkbox>
          <Checkbox v-model:checked="once.onlyOutdated"> {{ t('places.onlyStudentsWithoutACurrent') }}</Checkbox>
          <Checkbox v-model:checked="once.voidOlder"> {{ t('places.makeOlderCardsInvalid') }}</Checkbox>
        </div>
        <div class="row wrap">
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
          <a v-if="lastPrint" id="last-print" :href="`/api/prints/${lastPrint}/pdf`" target="_blank">{{
            t('places.theLastPrint')
          }}</a>
          <span class="grow" />
          <a :href="testPage" target="_blank">{{ t('places.testPageWithRulers') }}</a>
        </div>
        <p v-if="preview.error.value && request" class="rust">{{ preview.error.value.message }}</p>
      </div>
      <div class="looks row">
        <Button v-if="hasBack" size="small" @click="side = side === 0 ? 1 : 0">
          {{ side === 0 ? t('places.showTheBack') : t('places.showTheFront') }}
        </Button>
        <Checkbox v-model:checked="actual"> {{ t('places.trueSize') }}</Checkbox>
        <label v-if="actual" class="scale quiet"
          >{{ t('places.thisLineIs100Mm') }}
          <Slider
            v-model:value="scale"
            class="slider"
            :min="2"
            :max="9"
            :step="0.01"
            :tooltip-open="false"
            :aria-label="t('places.pixelsPerMillimeter')" />
          <i :style="{ width: `${100 * scale}px` }" aria-hidden="true"
        /></label>
        <span class="grow" />
        <span
          v-if="
            shown && form.stacked && isCard(form.layout) && shown.stacks.length > 1 && shown.pages > (hasBack ? 2 : 1)
          "
          class="quiet clip"
          >{{ t('places.stacksBeginWith', { slice: shown.stacks.slice(0, 3).join(' / ') }) }}</span
        >
      </div>
      <div class="preview" :class="{ actual }" tabindex="0" role="region" :aria-label="t('places.preview')">
        <SheetView
          v-if="sheetShown"
          :paper="form.paper"
          :items="sheetShown.items"
          :actual="actual ? scale : null"
          :label="t('places.previewOfTheFirstSheet', { paper: form.paper, of: sheetShown.of.length, cards })"
        />
      </div>
    </section>
  </div>
</template>

<style scoped>
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
.choices {
  padding: 12px 16px;
  font-size: 13px;
  display: grid;
  gap: 10px;
  border-bottom: 1px solid var(--rule);
}
.wrap {
  gap: 4px 16px;
}
.preview {
  flex: 1;
  min-height: 0;
  padding: 16px;
  display: flex;
  justify-content: center;
  background: var(--fog);
}
.preview.actual {
  overflow: auto;
  display: block;
}
.looks {
  flex: none;
  padding: 4px 16px;
  gap: 16px;
  font-size: 13px;
  flex-wrap: wrap;
}
.scale {
  display: flex;
  align-items: center;
  gap: 8px;
}
.scale i {
  display: block;
  height: 8px;
  border: solid var(--ink);
  border-width: 0 1px 1px;
}
.small {
  width: 64px;
}
</style>
