/** A new password for one student at once, and their card. */
import { t } from '@/words';
import { ref, type Ref } from 'vue';
import { call } from '@/api';
import { usePrint } from '@/handouts/print';
import { useWork } from '@/stores/work';

export function usePassword(id: Readonly<Ref<string>>, changed: () => unknown) {
  const work = useWork();
  const busy = ref(false);
  const { print } = usePrint();
  /** Applied at once, with its undo. */
  async function renew(): Promise<void> {
    if (busy.value) return;
    busy.value = true;
    try {
      const { planId, sentence } = await call('POST /api/people/:id/password', { id: id.value });
      work.say(sentence, { label: t('common.undo'), run: () => void work.undo(planId, true).then(changed) });
      await changed();
    } catch (error) {
      work.wrong(error);
    } finally {
      busy.value = false;
    }
  }
  return { busy, renew, printCard: () => print({ personId: id.value }) };
}
