<script setup lang="ts">
/** Next year's grades: how many come to each, and how far they are split into classes. */
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { useLoad } from '@/kit/load';

const router = useRouter();
const session = useSession();
const list = useLoad('sections', 'GET /api/year/splits');
const rows = computed(() =>
  (list.data.value ?? []).filter(({ id }) => !session.where.school || id.startsWith(session.where.school)),
);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const columns: Col[] = [
  { key: 'school', label: 'School', width: 'minmax(140px, 1.4fr)' },
  { key: 'grade', label: 'Grade next year', width: '120px' },
  { key: 'children', label: 'Students', width: '80px', align: 'right' },
  { key: 'rooms', label: 'Classes', width: '72px', align: 'right' },
  { key: 'state', label: 'Split', width: 'minmax(150px, 1fr)' },
  { key: 'open', label: '', width: '90px' },
];
const open = (id: string) => void router.push(`/year/sections/${encodeURIComponent(id)}`);
</script>

<template>
  <Worksheet
    ref="sheet"
    label="Grades of next year"
    :rows="rows"
    :columns="columns"
    empty="Nobody goes up into a grade."
    @open="(row) => open(row.id)"
  >
    <template #grade="{ row }">{{ gradeLabel(row.grade) }}</template>
    <template #state="{ row }"
      ><span v-if="row.placed === 0" class="quiet">as they come up</span
      ><span v-else-if="row.placed < row.children" class="rust"
        >{{ row.children - row.placed }} are in no class yet</span
      ><span v-else class="stem">all {{ row.placed }} are placed</span></template
    >
    <template #open="{ row }"
      ><Button
        size="small"
        tabindex="-1"
        :aria-label="`Split grade ${gradeLabel(row.grade)} of ${row.school}`"
        @click.stop="open(row.id)"
      >
        Split
      </Button></template
    >
  </Worksheet>
</template>
