/** Printing by the options that were used last: the job is followed, and its notice offers the PDF. */
import { ref } from 'vue';
import type { PrintRequest } from '../../server/contract';
import { call } from '@/api';
import { counted } from '#core/plan/counted';
import { isCard, type Layout } from '#core/cards/index';
import { useWork } from '@/stores/work';
import { type PrintForm, usePrintForm } from './form';

export const pieceWords: Record<Layout, [string, string]> = {
  cards: ['card', 'cards'],
  badges: ['badge', 'badges'],
  strips: ['strip', 'strips'],
  labels: ['label', 'labels'],
  list: ['line', 'lines'],
};
export type Target = Pick<PrintRequest, 'classId' | 'sheaf' | 'personId' | 'onlyOutdated'> & { voidOlder?: boolean };

export function requestOf(target: Target, form: PrintForm): PrintRequest {
  const { layout, paper, backs, stacked, skip, language, large } = form;
  return {
    voidOlder: false,
    ...target,
    ...{ layout, paper, backs: backs || null, stacked, skip: Number(skip) || 0, language: language || null, large },
  };
}

export function usePrint() {
  const work = useWork();
  const form = usePrintForm();
  const busy = ref(false);
  const lastPrint = ref<string | null>(null);

  /** `target`: for whom; without it a single card goes by the form. */
  async function print(target: Target): Promise<void> {
    if (busy.value) return;
    busy.value = true;
    try {
      // One student has a card, whatever was printed last.
      const how =
        target.personId && !isCard(form.value.layout) ? { ...form.value, layout: 'cards' as const } : form.value;
      const { jobId, cards } = await call('POST /api/prints', { body: requestOf(target, how) });
      const said = counted(cards, pieceWords[how.layout]);
      const { printId } = await work.follow(jobId, `Drawing ${said}`);
      lastPrint.value = printId ?? null;
      work.say(`${said} ready to print.`, { label: 'Open PDF', run: () => open(printId!) });
    } catch (error) {
      if (work.notice?.tone !== 'wrong') work.wrong(error);
    } finally {
      busy.value = false;
    }
  }
  return { print, busy, lastPrint };
}
const open = (printId: string): void => void window.open(`/api/prints/${printId}/pdf`, '_blank');
