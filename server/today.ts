/** Today: what waits for a person, and how ready each school and class is; and the ticks of the year ribbon. */
import { gradeLabel } from '#core/tabular/index';
import type { Handouts, HandoutClass, RibbonTick, Today } from './api/contract';
import { mayBeSeen, type Viewer } from './api/context';
import { nowIso } from './clock';
import type { Db } from './db/connection';
import type { District } from './district';
import { cardHolds, gradeOrder } from './people/list';

const links = `COUNT(*) AS people, SUM(ac.id IS NOT NULL AND ac.status = 'active') AS account,
  SUM(EXISTS (SELECT 1 FROM enrollments le WHERE le.personId = p.id AND le.ends IS NULL)) AS inClass,
  SUM(ac.id IS NOT NULL AND ${cardHolds}) AS card, SUM(EXISTS (SELECT 1 FROM sign_ins si WHERE si.personId = p.id)) AS signedIn`;
const students = `FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId
  LEFT JOIN accounts ac ON ac.personId = p.id`;

interface Links {
  people: number;
  account: number;
  inClass: number;
  card: number;
  signedIn: number;
}

export async function today(db: Db, viewer: Viewer): Promise<Today> {
  const scope = mayBeSeen(viewer);
  const where = `WHERE p.role = 'student' AND p.status = 'active' AND ${scope.sql}`;
  const [schools, grades] = await Promise.all([
    db.select<Links & { id: string; name: string }>(
      `SELECT s.id, s.name, ${links} ${students} ${where} GROUP BY s.id, s.name ORDER BY s.name`,
      scope.params,
    ),
    db.select<Links & { id: string; parent: string; grade: string }>(
      `SELECT CONCAT(s.id, ':', a.grade) AS id, s.id AS parent, a.grade, ${links} ${students} ${where} AND a.grade IS NOT NULL GROUP BY s.id, a.grade ORDER BY s.id, a.grade`,
      scope.params,
    ),
  ]);
  const link = (row: Links) => ({
    account: Number(row.account),
    class: Number(row.inClass),
    card: Number(row.card),
    'signed-in': Number(row.signedIn),
  });
  return {
    waits: await waits(db, viewer),
    readiness: [
      ...schools.map((row) => ({ id: row.id, name: row.name, parent: null, people: row.people, link: link(row) })),
      ...grades.map((row) => ({
        id: row.id,
        name: `grade ${gradeLabel(row.grade)}`,
        parent: row.parent,
        people: row.people,
        link: link(row),
      })),
    ],
  };
}

async function waits(db: Db, viewer: Viewer): Promise<Today['waits']> {
  if (viewer.role === 'teacher') return [];
  const found: Today['waits'] = [];
  const mine = viewer.role === 'district' ? '1 = 1' : 'createdBy = :me';
  const plans = await db.select<{ id: string; title: string; held: string; releases: string; changes: number }>(
    `SELECT id, title, held, releases, changes FROM plans WHERE status = 'ready' AND ${mine} ORDER BY createdAt DESC LIMIT 20`,
    { me: viewer.personId },
  );
  for (const plan of plans) {
    const held =
      (JSON.parse(plan.held) as { message: string }[]).length > (JSON.parse(plan.releases) as unknown[]).length;
    found.push({
      id: plan.id,
      text: held
        ? `${plan.title} is held by a guard`
        : `${plan.title}: ${plan.changes} changes are planned, not applied`,
      action: 'Open the plan',
      to: `/plans/${plan.id}`,
      urgency: held ? 90 : 70,
    });
  }
  const intakes = await db.select<{ id: string; fileName: string }>(
    `SELECT id, fileName FROM intakes WHERE status = 'open' AND ${mine} ORDER BY createdAt DESC LIMIT 20`,
    { me: viewer.personId },
  );
  for (const intake of intakes)
    found.push({
      id: intake.id,
      text: `${intake.fileName} is open in the intake`,
      action: 'Go on with it',
      to: `/intake/${intake.id}`,
      urgency: 60,
    });
  const scope = mayBeSeen(viewer);
  const cards = await db.one<{ stale: number }>(
    `SELECT COUNT(*) AS stale FROM people p JOIN accounts ac ON ac.personId = p.id WHERE p.role = 'student' AND p.status = 'active' AND ${scope.sql}
     AND EXISTS (SELECT 1 FROM printed_cards oc WHERE oc.personId = p.id) AND NOT ${cardHolds}`,
    scope.params,
  );
  if (cards?.stale)
    found.push({
      id: 'cards',
      text: `${cards.stale} printed cards no longer hold: the secret changed since`,
      action: 'Print them anew',
      to: '/handouts',
      urgency: 80,
    });
  return found.sort((a, b) => b.urgency - a.urgency);
}

export async function ribbon(db: Db, { settings }: District): Promise<RibbonTick[]> {
  const { year } = settings;
  const entries = await db.select<{ day: string; title: string; planId: string; n: number }>(
    `SELECT LEFT(l.at, 10) AS day, MAX(p.title) AS title, MAX(p.id) AS planId, COUNT(*) AS n FROM ledger l JOIN plans p ON p.id = l.planId
     WHERE p.kind = 'import' AND p.status = 'applied' AND l.action = 'apply' GROUP BY day ORDER BY day DESC LIMIT 60`,
  );
  const prints = await db.select<{ day: string; cards: number }>(
    'SELECT LEFT(at, 10) AS day, SUM(cards) AS cards FROM prints GROUP BY day ORDER BY day DESC LIMIT 60',
  );
  return [
    { date: year.begins, text: 'school opens', to: null, kind: 'year' as const },
    { date: year.ends, text: 'year ends', to: null, kind: 'year' as const },
    ...entries.map(({ day, title, planId, n }) => ({
      date: day,
      text: n > 1 ? `${n} imports` : title,
      to: `/plans/${planId}`,
      kind: 'import' as const,
    })),
    ...prints.map(({ day, cards }) => ({
      date: day,
      text: `${cards} cards printed`,
      to: '/handouts',
      kind: 'print' as const,
    })),
  ];
}

/** Homerooms with the state of their cards, and the last prints. */
export async function handouts(db: Db, viewer: Viewer): Promise<Handouts> {
  const scope = mayBeSeen(viewer);
  const classes = await db.select<
    Omit<HandoutClass, 'outdated' | 'missing'> & { outdated: number | string; missing: number | string }
  >(
    `SELECT c.id AS classId, c.name, s.name AS school, c.grade, COUNT(*) AS students,
       SUM(NOT ${cardHolds} AND EXISTS (SELECT 1 FROM printed_cards oc WHERE oc.personId = p.id)) AS outdated,
       SUM(NOT EXISTS (SELECT 1 FROM printed_cards oc WHERE oc.personId = p.id)) AS missing
     FROM classes c JOIN schools s ON s.id = c.schoolId JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student'
       JOIN people p ON p.id = e.personId JOIN accounts ac ON ac.personId = p.id
     WHERE c.ends IS NULL AND c.kind = 'homeroom' AND ${scope.sql} GROUP BY c.id, c.name, s.name, c.grade ORDER BY s.name, ${gradeOrder('c.grade')}, c.name`,
    scope.params,
  );
  const mine = viewer.role === 'district' ? '1 = 1' : 'r.byPersonId = :me';
  const prints = await db.select<{
    id: string;
    at: string;
    by: string;
    what: string;
    cards: number;
    paper: string;
    canFetch: number;
  }>(
    `SELECT r.id, r.at, CONCAT(p.givenName, ' ', p.familyName) AS \`by\`, r.what, r.cards, r.paper, r.sealedPdf IS NOT NULL AND r.fetchUntil > :now AND r.byPersonId = :me AS canFetch
     FROM prints r JOIN people p ON p.id = r.byPersonId WHERE ${mine} ORDER BY r.at DESC LIMIT 30`,
    { me: viewer.personId, now: nowIso() },
  );
  return {
    classes: classes.map((row) => ({ ...row, outdated: Number(row.outdated), missing: Number(row.missing) })),
    prints: prints.map((row) => ({ ...row, canFetch: row.canFetch === 1 })),
  };
}
