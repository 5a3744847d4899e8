/** Set work as the child sees it for whom it is, and the way into it. */
import { say } from '#core/messages/say';
import { phaseOf, sameWord, seesAnswers } from '#core/setwork/index';
import { Fault, notFound } from '../faults';
import type { Viewer } from '../services';
import type { MyWork } from '../contract';
import { attempt, type Bucket, forgive } from '../auth/limits';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { workFor, workForOne } from './queries';

/** Open first, then what comes, then what closed in the last two weeks. */
export async function myWork(db: Db, viewer: Viewer): Promise<MyWork[]> {
  const now = nowIso();
  const since = new Date(Date.parse(now) - 14 * 86_400_000).toISOString();
  const rows = await workFor(db, viewer.personId, since);
  const rank = { open: 0, shut: 1, coming: 2, closed: 3 };
  return rows
    .map(({ doneAt, permille, ...row }) => {
      const phase = phaseOf(row, now);
      const isDone = doneAt !== null;
      return {
        id: row.id,
        title: row.title,
        kind: row.kind,
        className: row.className,
        phase,
        opensAt: row.opensAt,
        dueAt: row.dueAt,
        inLibrary: row.library === 1,
        closesAt: row.closesAt,
        minutes: row.minutes,
        needs: row.needs,
        asksWord: row.entryWord !== null,
        isDone,
        share: permille !== null && seesAnswers(row.answers, phase, isDone) ? Number(permille) / 1000 : null,
      };
    })
    .sort((a, b) => rank[a.phase] - rank[b.phase]);
}

/** Where it opens. Throws Fault when it is not theirs or not open, or the word is another one. */
export async function enterWork(db: Db, viewer: Viewer, id: string, word: string): Promise<{ address: string }> {
  const row = await workForOne(db, viewer.personId, id);
  if (!row) throw notFound(say('api.thisAssignment'));
  if (phaseOf(row, nowIso()) !== 'open') throw new Fault('conflict', say('materials.thisIsNotOpenNow'));
  if (row.entryWord !== null) {
    const bucket: Bucket = [`work:${viewer.personId}`, 10, 900];
    if (!(await attempt(db, bucket))) throw new Fault('too-many', say('materials.tooManyTriesWaitA'));
    if (!sameWord(word, row.entryWord)) throw new Fault('invalid', say('materials.thatIsNotTheStart'));
    await forgive(db, bucket);
  }
  return { address: row.address };
}
