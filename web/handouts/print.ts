/** Printing by the options that were used last: the job is followed, and its notice offers the PDF. */
import { t } from '@/words';
import { ref } from 'vue';
import type { PrintRequest } from '../../server/contract';
import { call } from '@/api';
import { isCard, type Layout } from '#core/cards/index';
import { useWork } from '@/stores/work';
import { type PrintForm, usePrintForm } from './form';

/** "24 cards" */
export const pieces = (layout: Layout, n: number): string =>
  ({
    cards: () => t('handouts.countCards', { n }),
    badges: () => t('handouts.countBadges', { n }),
    strips: () => t('handouts.countStrips', { n }),
    letters: () => t('handouts.countLetters', { n }),
    labels: () => t('handouts.countLabels', { n }),
    list: () => t('handouts.countList', { n }),
  })[layout]();
export type Target = Pick<
  PrintRequest,
  'classId' | 'groupId' | 'planId' | 'sheaf' | 'wide' | 'personId' | 'onlyOutdated'
> & {
  voidOlder?: boolean;
};

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
      const said = pieces(how.layout, cards);
      const { printId } = await work.follow(jobId, t('handouts.drawing', { said }));
      lastPrint.value = printId ?? null;
      work.say(t('handouts.readyToPrint', { said }), { label: t('handouts.openPdf'), run: () => open(printId!) });
    } catch (error) {
      if (work.notice?.tone !== 'wrong') work.wrong(error);
    } finally {
      busy.value = false;
    }
  }
  return { print, busy, lastPrint };
}
const open = (printId: string): void => void window.open(`/api/prints/${printId}/pdf`, '_blank');
