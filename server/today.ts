/** Today: what waits for a person, and how ready each school and class is; and the ticks of the year ribbon. */
import { gradeLabel } from '#core/tabular/index';
import type { Handouts, HandoutClass, RibbonTick, Today } from './api/contract';
import { mayBeSeen, type Viewer } from './api/context';
import { nowIso } from './clock';
import type { Db } from './db/connection';
import type { District } from './district';
import { cardHolds, gradeOrder } from './people/list';

interface Counted {
  schoolId: string;
  grade: string | null;
  people: number;
  account: number | string;
  inClass: number | string;
  card: number | string;
  signedIn: number | string;
}
type Readiness = Today['readiness'][number];

/** `day`: yyyy-mm-dd. */
export async function today(db: Db, viewer: Viewer, day: string): Promise<Today> {
  const scope = mayBeSeen(viewer);
  const [schools, counted, waiting] = await Promise.all([
    db.select<{ id: string; name: string }>('SELECT id, name FROM schools ORDER BY name'),
    // Each link is looked up once for all, then met with the students of each school and grade.
    db.select<Counted>(
      `SELECT a.schoolId, a.grade, COUNT(*) AS people, SUM(ac.status = 'active') AS account, SUM(en.personId IS NOT NULL) AS inClass,
         SUM(cd.personId IS NOT NULL) AS card, SUM(si.personId IS NOT NULL) AS signedIn
       FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
         LEFT JOIN accounts ac ON ac.personId = p.id
         LEFT JOIN (SELECT personId FROM enrollments WHERE ends IS NULL GROUP BY personId) en ON en.personId = p.id
         LEFT JOIN (SELECT personId, secretVersion FROM printed_cards WHERE voidedAt IS NULL GROUP BY personId, secretVersion) cd
           ON cd.personId = p.id AND cd.secretVersion = ac.secretVersion
         LEFT JOIN sign_ins si ON si.personId = p.id
       WHERE p.role = 'student' AND p.status = 'active' AND ${scope.sql} GROUP BY a.schoolId, a.grade`,
      scope.params,
    ),
    waits(db, viewer, day),
  ]);
  const line = (id: string, name: string, parent: string | null, rows: Counted[]): Readiness => {
    const sum = (key: 'people' | 'account' | 'inClass' | 'card' | 'signedIn') =>
      rows.reduce((n, row) => n + Number(row[key] ?? 0), 0);
    const link = { account: sum('account'), class: sum('inClass'), card: sum('card'), 'signed-in': sum('signedIn') };
    return { id, name, parent, people: sum('people'), link };
  };
  const readiness = schools.flatMap(({ id, name }) => {
    const rows = counted.filter(({ schoolId }) => schoolId === id);
    if (rows.length === 0) return [];
    const graded = rows.filter(({ grade }) => grade !== null);
    return [
      line(id, name, null, rows),
      ...graded.map((row) => line(`${id}:${row.grade}`, `grade ${gradeLabel(row.grade)}`, id, [row])),
    ];
  });
  return { waits: waiting, readiness };
}

async function waits(db: Db, viewer: Viewer, day: string): Promise<Today['waits']> {
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
  found.push(...(await transfers(db, viewer, day)));
  return found.sort((a, b) => b.urgency - a.urgency);
}

const transferDays = 14;

/** Who moved between two schools lately, a line for each way: both schools see it. */
async function transfers(db: Db, viewer: Viewer, day: string): Promise<Today['waits']> {
  const since = new Date(Date.parse(day) - transferDays * 86_400_000).toISOString().slice(0, 10);
  const moved = await db.select<{ toId: string; fromId: string; toName: string; fromName: string; name: string }>(
    `SELECT a.schoolId AS toId, b.schoolId AS fromId, ts.name AS toName, fs.name AS fromName, CONCAT(p.givenName, ' ', p.familyName) AS name
     FROM affiliations a JOIN affiliations b ON b.personId = a.personId AND b.ends = a.begins AND b.schoolId <> a.schoolId
       JOIN people p ON p.id = a.personId JOIN schools ts ON ts.id = a.schoolId JOIN schools fs ON fs.id = b.schoolId
     WHERE a.begins >= :since AND a.ends IS NULL ORDER BY ts.name, fs.name, p.familyName LIMIT 500`,
    { since },
  );
  const ways = new Map<string, { text: string; names: string[] }>();
  for (const { toId, fromId, toName, fromName, name } of moved) {
    if (viewer.role !== 'district' && ![toId, fromId].some((id) => viewer.schoolIds.includes(id))) continue;
    const key = `${fromId}>${toId}`;
    const way = ways.get(key) ?? { text: `from ${fromName} to ${toName}`, names: [] };
    way.names.push(name);
    ways.set(key, way);
  }
  return [...ways].map(([key, { text, names }]) => ({
    id: `moved:${key}`,
    text: `${names.length} moved ${text}: ${names.slice(0, 4).join(', ')}${names.length > 4 ? ' …' : ''}`,
    action: 'Open the ledger',
    to: '/ledger',
    urgency: 30,
  }));
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
