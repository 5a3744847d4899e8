/** The row that the cursor is on: what is wrong there, how its whole name is split, and what is done about it. */
import { computed, type Ref } from 'vue';
import { splitName, tidy } from '#core/names/index';
import type { Column } from '#core/tabular/index';
import type { IntakeRow } from '../../server/contract';
import type { useEdits } from './edits';

interface Sheet {
  at: { row: number; column: number };
  rowAt: (index: number) => IntakeRow | undefined;
  columns: Ref<readonly Column[]>;
  edits: ReturnType<typeof useEdits>;
}

export function useCurrent({ at, rowAt, columns, edits }: Sheet) {
  const current = computed(() => rowAt(at.row));
  const problemHere = computed(
    () => current.value?.problems.find(({ column }) => column === at.column) ?? current.value?.problems[0],
  );
  const nameHere = computed(() => {
    const column = columns.value.find(({ index }) => index === at.column);
    const text = column?.field === 'fullName' && current.value ? tidy(edits.shown(current.value, column.index)) : '';
    return text ? splitName(text) : null;
  });
  function takeProposed(): void {
    const [row, problem] = [current.value, problemHere.value];
    if (row && problem?.repair !== undefined && problem.column !== null)
      edits.put([{ row, column: problem.column, text: problem.repair }]);
  }
  function leaveOut(): void {
    if (current.value) edits.toggle('leftOut', current.value.line);
  }
  return { current, problemHere, nameHere, takeProposed, leaveOut };
}
