/**
 * Long work and short notices: jobs are followed by server-sent events and shown at the foot while they run; what was
 * done is said in one line, with Undo where it can be undone.
 */
import { readAnswer, t } from '@/words';
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Conflict } from '#core/plan/index';
import type { Job } from '../../server/contract';
import { call, CallError } from '@/api';
import { useSession } from './session';
import { useAgain } from '@/kit/load';

export interface Notice {
  text: string;
  tone: 'said' | 'wrong';
  action?: { label: string; run: () => void };
  details?: { text: string; by?: Conflict['by'] }[];
}
/** Does a plan without those subjects. */
type Rest = { label: string; run: (except: string[]) => void };

export const useWork = defineStore('work', () => {
  const running = ref<{ id: string; title: string; job: Job | null }[]>([]);
  const notice = ref<Notice | null>(null);
  const reload = useAgain();
  const router = useRouter();

  function say(text: string, action?: Notice['action']): void {
    notice.value = { text, tone: 'said', action };
  }
  function wrong(error: unknown): void {
    const text = error instanceof Error ? error.message : String(error);
    const planId = error instanceof CallError ? error.planId : undefined;
    const action = planId && { label: t('stores.openThePlan'), run: () => void router.push(`/plans/${planId}`) };
    notice.value = { text, tone: 'wrong', ...(action ? { action } : {}) };
  }
  /** What is in the way, with the plans that made it so; and the rest, where what is in the way can be left out. */
  function inTheWay(message: string, conflicts: Conflict[], rest?: Rest): void {
    const subjects = [...new Set(conflicts.flatMap(({ subject }) => subject ?? []))];
    const canLeaveOut = rest && conflicts.length > 0 && conflicts.every(({ subject }) => subject);
    notice.value = {
      text: message,
      tone: 'wrong',
      details: conflicts.map(({ label, message: why, by }) => ({ text: `${label}: ${why}`, by })),
      ...(canLeaveOut ? { action: { label: rest.label, run: () => rest.run(subjects) } } : {}),
    };
  }

  /** Follows a job to its end. Throws with the job's own words when it fails; conflicts are named in the notice. */
  async function follow(jobId: string, title: string, rest?: Rest): Promise<NonNullable<Job['result']>> {
    const entry = { id: jobId, title, job: null as Job | null };
    running.value.push(entry);
    try {
      const job = await new Promise<Job>((done, failed) => {
        const events = new EventSource(`/api/jobs/${jobId}/events`);
        events.addEventListener('job', (event) => {
          const seen = readAnswer<Job>((event as MessageEvent<string>).data);
          running.value = running.value.map((r) => (r.id === jobId ? { ...r, job: seen } : r));
          if (seen.status === 'waiting' || seen.status === 'running') return;
          events.close();
          done(seen);
        });
        // The browser tries again by itself; only a job that is gone ends the waiting.
        events.onerror = () => {
          if (events.readyState === EventSource.CLOSED) failed(new Error(t('stores.theJobsProgressCanNo')));
        };
      });
      if (job.status !== 'done') {
        inTheWay(job.error?.message ?? t('stores.theJobFailed'), job.error?.conflicts ?? [], rest);
        throw new Error(job.error?.message ?? t('stores.theJobFailed'));
      }
      return job.result ?? {};
    } finally {
      running.value = running.value.filter(({ id }) => id !== jobId);
      await reload();
      // A plan may have begun another school year.
      await useSession().renew();
    }
  }

  /** `oldPasswords`: passwords that the plan changed work again; else new ones are made. */
  async function undo(planId: string, oldPasswords = false, except: string[] = []): Promise<void> {
    try {
      const { jobId } = await call('POST /api/plans/:id/undo', { id: planId, body: { oldPasswords, except } });
      const result = await follow(jobId, t('stores.undoing'), {
        label: t('stores.undoTheRest'),
        run: (more) => void undo(planId, oldPasswords, [...except, ...more]),
      });
      say(t('stores.undone', { sentence: result.sentence ?? '' }));
    } catch (error) {
      if (notice.value?.tone !== 'wrong') wrong(error);
    }
  }
  return { running, notice, say, wrong, follow, undo };
});
