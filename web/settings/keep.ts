/** Changes some of the district's settings and says so. */
import { ref } from 'vue';
import type { DistrictSettings } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';

/** `after` also runs after a failure, since a field may show what was not saved. */
export function useKeep(after: () => void) {
  const work = useWork();
  const busy = ref(false);
  async function keep(change: Partial<DistrictSettings>, said: string): Promise<void> {
    busy.value = true;
    try {
      await call('POST /api/district', { body: change });
      work.say(said);
    } catch (error) {
      work.wrong(error);
    } finally {
      busy.value = false;
      after();
    }
  }
  return { keep, busy };
}
