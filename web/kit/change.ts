/** Makes a change that is its own plan, shows the notice with Undo, and reloads what the page shows. */
import { useWork } from '@/stores/work';
import { t } from '@/words';

/**
 * `after` reloads the page's data. It also runs after a failure, since a field may show a value that was not saved, and
 * after Undo. Returns the server's answer; null if the change failed, which the notice says.
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
