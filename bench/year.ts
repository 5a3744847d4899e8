/** The roll-over of 100,000: rehearsed, planned, applied, undone; beside its rows written in plain batches. And a grade of 600 split into 24 classes. */
import { balance, scoreSplit, type SplitQuestion } from '#core/year/index';
import { type Random, randomFrom } from '#core/random/index';
import type { Db } from '#server/db/connection';
import { carryOut } from '#server/plans/apply';
import { savePlan } from '#server/plans/store';
import { mint } from '#server/plans/mint';
import { checksumOf } from '#server/testing/checksum';
import { planYear, YearDesk } from '#server/year/plan';
import { bareUpdate } from './roster';
import { print, table, timed } from './table';

export async function benchYear(db: Db): Promise<void> {
  // A day later than the import: what begins today is next year's already.
  const at = { today: () => '2027-07-01' };
  const rehearsed = await timed(() => new YearDesk(db, at).rehearse());
  if (rehearsed.result.error) throw new Error(rehearsed.result.error);
  const planned = await timed(() => planYear(db, at));
  const { plan } = planned.result;
  const count = plan.changes.length;
  const before = await checksumOf(db);
  const stored = await timed(() =>
    db.transaction((tx) => savePlan(db, tx, { ...planned.result, createdBy: mint(), grant: { is: 'opening' } })),
  );
  const applied = await timed(() => carryOut(db, stored.result, 'apply', null));
  const undone = await timed(() => carryOut(db, stored.result, 'undo', null));
  const isBack = (await checksumOf(db)) === before;
  const baseline = { what: 'the bare batch update', seconds: await bareUpdate(db, plan) };
  const lines = rehearsed.result.lines;
  const sum = (of: (line: (typeof lines)[number]) => number) =>
    lines.reduce((n, line) => n + of(line), 0).toLocaleString('en-US');
  print(
    `The roll-over of ${sum((line) => line.before.students)} students at ${lines.length} schools: ${count.toLocaleString('en-US')} changes; ${sum((line) => line.leave)} leave; undone, all tables ${isBack ? 'are as before' : 'DIFFER'}`,
    [
      { what: 'rehearsed, without a plan kept', seconds: rehearsed.seconds, count, unit: 'changes', baseline },
      { what: 'planned', seconds: planned.seconds, count, unit: 'changes', baseline },
      { what: 'plan stored in chunks', seconds: stored.seconds, count, unit: 'changes', baseline },
      { what: 'applied, ledger included', seconds: applied.seconds, count, unit: 'changes', baseline },
      { what: 'undone', seconds: undone.seconds, count, unit: 'changes', baseline },
    ],
  );
}

function grade(r: Random, children: number, classes: number): SplitQuestion {
  const of = (values: (string | null)[]) => Array.from({ length: children }, () => values[r.below(values.length)]!);
  return {
    children,
    attributes: [of(['1', '2', '3']), of(['es', 'vi', 'pl', null, null]), of(['yes', 'no', 'no', 'no', 'no'])],
    most: Array.from({ length: classes }, () => null),
    wishes: Array.from({ length: children / 10 }, () => ({
      a: r.below(children),
      b: r.below(children),
      together: r.real() < 0.4,
    })).filter(({ a, b }) => a !== b),
    fixed: Array.from({ length: children }, () => -1),
  };
}

/** The least that any split can come to where all classes are of one size: each value as near to its share as whole children are. */
function leastUneven({ attributes, most: { length: rooms } }: SplitQuestion): number {
  let sum = 0;
  for (const attribute of attributes) {
    const counts = new Map<string, number>();
    for (const value of attribute) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
    for (const n of counts.values()) {
      const part = (n / rooms) % 1;
      sum += rooms * part * (1 - part);
    }
  }
  return sum;
}

export async function benchSections(): Promise<void> {
  const rows: string[][] = [];
  for (const [children, classes] of [
    [90, 4],
    [600, 24],
    [1200, 40],
  ] as const) {
    const question = grade(randomFrom(3), children, classes);
    const { seconds, result } = await timed(() => {
      const steps = balance(question, randomFrom(1));
      for (;;) {
        const step = steps.next();
        if (step.done) return step.value;
      }
    });
    const inOrder = Array.from({ length: children }, (_, i) => i % classes);
    const { total, broken } = scoreSplit(question, result);
    rows.push([
      `${children} students into ${classes} classes`,
      `${seconds.toFixed(2)} s`,
      total.toFixed(1),
      children % classes === 0 ? leastUneven(question).toFixed(1) : '',
      `${broken.length} of ${question.wishes.length}`,
      scoreSplit(question, inOrder).total.toFixed(1),
    ]);
  }
  table('Sections', ['', 'time', 'score', 'no split is below', 'wishes not met', 'dealt out in order'], rows);
}
