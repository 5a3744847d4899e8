/** A change that is a plan of its own: made, told with Undo, and what the page shows asked for again. */
import { useWork } from '@/stores/work';
import { t } from '@/words';

/**
 * `after`: what is asked for again, also where the change failed, since a field may show what was not kept, and after
 * it was undone. What the change gave is returned; null: it was not made, which was told.
 */
export function useChange(after: () => unknown) {
  const work = useWork();
  return async function change<M extends { planId: string | null }>(
    make: () => Promise<M>,
    said: string | ((made: M) => string),
  ): Promise<M | null> {
    let made: M | null = null;
    try {
      made = await make();
      const { planId } = made;
      const undo = planId
        ? { label: t('common.undo'), run: () => void work.undo(planId).then(() => after()) }
        : undefined;
      work.say(typeof said === 'string' ? said : said(made), undo);
    } catch (error) {
      work.wrong(error);
    }
    await after();
    return made;
  };
}
