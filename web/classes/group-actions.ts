/** What can be done with a group, from its page and from beside its class. */
import { t } from '@/words';
import type { GroupRow } from '../../server/contract';
import { call } from '@/api';
import { useAgain } from '@/kit/load';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';

export function useGroupActions() {
  const sheaf = useSheaf();
  const work = useWork();
  const reload = useAgain();
  const again = async () => {
    sheaf.version++;
    await reload('GET /api/groups', 'GET /api/groups/:id');
  };
  /** Applies at once, and says so with its undo. False: it was not done, and that was said. */
  async function act<T extends { planId: string }>(run: () => Promise<T>, say: (made: T) => string): Promise<boolean> {
    try {
      const made = await run();
      work.say(say(made), { label: t('common.undo'), run: () => void work.undo(made.planId).then(again) });
      await again();
      return true;
    } catch (error) {
      work.wrong(error);
      return false;
    }
  }
  return {
    act,
    async rename(group: GroupRow, wanted: string): Promise<void> {
      const after = wanted.trim();
      if (!after || after === group.name) return;
      await act(
        () => call('POST /api/groups/:id/rename', { id: group.id, body: { before: group.name, after } }),
        () => t('classes.isNow', { name: group.name, after }),
      );
    },
    end: (group: GroupRow) =>
      act(
        () => call('POST /api/groups/:id/end', { id: group.id }),
        () => t('classes.ended', { name: group.name }),
      ),
    async gather(group: GroupRow): Promise<void> {
      try {
        await sheaf.gatherAll({ group: group.id });
      } catch (error) {
        work.wrong(error);
      }
    },
  };
}
