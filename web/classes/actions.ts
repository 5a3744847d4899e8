/** What can be done with a whole class, from its page and from beside the list. */
import { t } from '@/words';
import { useRouter } from 'vue-router';
import type { ClassRow } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';

export function useClassActions(one: () => ClassRow) {
  const session = useSession();
  const sheaf = useSheaf();
  const work = useWork();
  const router = useRouter();

  async function trying(run: () => Promise<unknown>): Promise<void> {
    try {
      await run();
    } catch (error) {
      work.wrong(error);
    }
  }
  /** Makes a plan, and opens it to be looked at. */
  const plan = (ask: () => Promise<{ planId: string }>) =>
    trying(async () => router.push(`/plans/${(await ask()).planId}`));
  /** The class is where one looks from now on. */
  const here = () => session.go({ school: one().schoolId, classId: one().id, className: one().name });

  return {
    gather: () => trying(() => sheaf.gatherAll({ classId: one().id, role: 'student' })),
    cards: () => router.push({ path: '/handouts', query: { class: one().id } }),
    /** Those in People who are missing something. */
    missing(lacks: 'account' | 'card' | 'seats' | 'device'): void {
      here();
      void router.push({ path: '/people', query: { lacks } });
    },
    /** Assignments or usage of this class alone. */
    look(path: '/classes/work' | '/classes/use'): void {
      here();
      void router.push(path);
    },
    split: (names: string) => plan(() => call('POST /api/classes/:id/split', { id: one().id, body: { names } })),
    combine: (other: string) =>
      plan(() => call('POST /api/classes/:id/combine', { id: one().id, body: { others: [other] } })),
    end: () => plan(() => call('POST /api/classes/:id/end', { id: one().id })),
    saveAsTemplate: () =>
      trying(async () => {
        const { id, name, subject } = one();
        await call('POST /api/templates', { body: { name: [subject, name].filter(Boolean).join(' · '), classId: id } });
        work.say(t('classes.savedAsATemplateNew', { name }));
      }),
    /** Shows the class's open code large; makes one for two weeks where there is none. */
    showCode: () =>
      trying(async () => {
        const { codes } = await call('GET /api/codes', { query: { classId: one().id } });
        const open = codes.find(({ state }) => state === 'open');
        const body = { classId: one().id, schoolId: null, days: 14, usesMost: 40 };
        const { id } = open ?? (await call('POST /api/codes', { body }));
        await router.push(`/board/${id}`);
      }),
  };
}
