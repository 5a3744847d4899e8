/** The worksheet of people against the same questions asked plainly of all rows. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fold } from '#core/names/index';
import { grades } from '#core/tabular/index';
import type {
  KeptSheaf,
  PeopleFacets,
  PeopleFilter,
  PeoplePage,
  PeopleSort,
  PersonRow,
  PersonSheet,
  SheafState,
  Today,
} from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let all: PersonRow[];
beforeAll(async () => {
  world = await World.open('people');
  district = await world.as('district');
  all = await pages({}, 'family', false, 1000);
});
afterAll(() => world.close());

const search = (query: object) =>
  new URLSearchParams(
    Object.entries(query)
      .filter(([, v]) => v !== undefined)
      .map(([k, v]) => [k, String(v)]),
  ).toString();
async function pages(filter: PeopleFilter, sort: PeopleSort, desc: boolean, limit: number): Promise<PersonRow[]> {
  const rows: PersonRow[] = [];
  let after: string | undefined;
  do {
    const { body, status } = await district.get<PeoplePage>(
      `/api/people?${search({ ...filter, sort, desc, limit, after })}`,
    );
    expect(status).toBe(200);
    rows.push(...body.rows);
    after = body.next ?? undefined;
  } while (after);
  return rows;
}
const ids = (rows: { id: string }[]) => rows.map(({ id }) => id).sort();
const facets = async (filter: PeopleFilter) =>
  (await district.get<PeopleFacets>(`/api/people/facets?${search(filter)}`)).body;

describe('paging by key', () => {
  it('shows everyone exactly once, in order, whatever the sorting and the size of a page', async () => {
    const keys: Record<PeopleSort, (row: PersonRow) => string | number> = {
      family: (r) => fold(r.familyName),
      given: (r) => fold(r.givenName),
      number: (r) => r.number ?? '',
      username: (r) => r.username ?? '',
      grade: (r) => grades.indexOf(r.grade as never) + 1,
    };
    expect(all.length).toBeGreaterThan(2400);
    for (const sort of Object.keys(keys) as PeopleSort[]) {
      for (const desc of [false, true]) {
        const rows = await pages({}, sort, desc, 397);
        expect([sort, desc, ids(rows)]).toEqual([sort, desc, ids(all)]);
        if (sort !== 'family' && sort !== 'given') {
          const seen = rows.map(keys[sort]);
          const sorted = [...seen].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
          expect([sort, desc, seen]).toEqual([sort, desc, desc ? sorted.reverse() : sorted]);
        }
      }
    }
    // By grade, then by family and given name; by a second column where one is told.
    const byGrade = await pages({ role: 'student' }, 'grade', false, 400);
    const family = (r: PersonRow) => fold(r.familyName).replaceAll(' ', '');
    const within = byGrade.filter(({ grade }) => grade === '03');
    expect(within.map((r) => [family(r), fold(r.givenName)])).toEqual(
      within
        .map((r) => [family(r), fold(r.givenName)])
        .sort(([a, b], [c, d]) => (a! < c! ? -1 : a! > c! ? 1 : b! < d! ? -1 : b! > d! ? 1 : 0)),
    );
    const { body } = await district.get<PeoplePage>('/api/people?role=student&sort=grade&then=username&limit=1000');
    const third = body.rows.filter(({ grade }) => grade === '03').map(({ username }) => username!);
    expect(third.length).toBeGreaterThan(10);
    expect(third).toEqual([...third].sort());
    // Names are sorted without regard to accents: Å stands with A, Š with S.
    const first = all.map((r) => fold(r.familyName)[0]!);
    expect(first).toEqual([...first].sort());
  });
});

describe('finding', () => {
  it('takes two letters of any part of a name, a number or a username, in any order, and adds up', async () => {
    const starts = (row: PersonRow, word: string) =>
      [...fold(row.familyName).split(' '), ...fold(row.givenName).split(' ').slice(0, 1)].some((part) =>
        part.startsWith(word),
      ) ||
      (row.number ?? '').startsWith(word) ||
      (row.username ?? '').startsWith(word);
    for (const q of ['an', 'an wr', 'wr an', 'meer', '0041', 'tanaka', 'šm', 'sm', 'ó']) {
      const words = fold(q).split(' ');
      const found = await pages({ q }, 'family', false, 1000);
      expect([q, ids(found)]).toEqual([q, ids(all.filter((row) => words.every((word) => starts(row, word))))]);
    }
    expect(await pages({ q: '100%_\\' }, 'family', false, 10)).toEqual([]);
  });
});

describe('facets', () => {
  it('count what choosing them shows', async () => {
    const whole = await facets({});
    expect(whole.total).toBe(all.length);
    expect(whole.school.reduce((sum, f) => sum + f.count, 0)).toBe(all.length);
    const lantern = whole.school.find((f) => f.label === 'Lantern Point')!.value;
    for (const filter of [
      { school: lantern },
      { school: lantern, grade: '03' as const },
      { role: 'staff' as const },
      { lacks: 'card' as const, grade: '02' as const },
    ] satisfies PeopleFilter[]) {
      const [shown, counted] = [await pages(filter, 'number', false, 500), await facets(filter)];
      expect([filter, counted.total]).toEqual([filter, shown.length]);
      for (const lack of counted.lacks) {
        const chosen = await pages({ ...filter, lacks: lack.value as 'card' }, 'number', false, 1000);
        expect([filter, lack.value, lack.count]).toEqual([filter, lack.value, chosen.length]);
        expect(chosen.every((row) => row.lacks.includes(lack.value as 'card'))).toBe(true);
      }
    }
    const third = await facets({ school: lantern, grade: '03' });
    // One's own facet stays open, so that another value can be chosen.
    expect(third.grade.map((f) => f.label)).toEqual(['K', '1', '2', '3', '4', '5']);
    expect(third.class.map((f) => f.label)).toEqual(['3A', '3B', '3C']);
  });

  it('count those on hold, those whose classes all ended, and those who left, each shown by choosing it', async () => {
    const before = await facets({});
    expect(before.status).toEqual([]);
    const some = (await pages({ role: 'student', grade: '02' as const }, 'family', false, 1000)).slice(0, 6);
    const act = async (rows: PersonRow[], order: object) => {
      await district.post('/api/sheaf/let-go', { all: true });
      await district.post('/api/sheaf/gather', { ids: rows.map(({ id }) => id) });
      const { planId } = (await district.job('/api/sheaf/plan', order)).result!;
      await district.job(`/api/plans/${planId}/apply`);
      return planId!;
    };
    const classId = (await world.db.one<{ classId: string }>(
      'SELECT classId FROM enrollments WHERE personId = :id AND ends IS NULL',
      { id: some[0]!.id },
    ))!.classId;
    const plans = [
      await act(some.slice(0, 1), { verb: 'unenroll', classId }),
      await act(some.slice(1, 3), { verb: 'hold' }),
      await act(some.slice(3, 6), { verb: 'leave' }),
    ];
    const counted = await facets({});
    expect(counted.status.map(({ value, count }) => [value, count])).toEqual([
      ['held', 2],
      ['past', 1],
      ['left', 3],
    ]);
    expect(counted.total).toBe(before.total - 3);
    for (const { value, count } of counted.status)
      expect([value, (await pages({ status: value as 'held' }, 'family', false, 100)).length]).toEqual([value, count]);
    for (const planId of plans.reverse()) await district.job(`/api/plans/${planId}/undo`);
    expect(await facets({})).toEqual(before);
    await district.post('/api/sheaf/let-go', { all: true });
  });

  it('agree with Today, and Today with a count in SQL', async () => {
    const today = (await district.get<Today>('/api/today')).body;
    const marrow = today.readiness.find((r) => r.name === 'Marrow Bay')!;
    const lacking = await world.db.one<{ n: number }>(
      `SELECT COUNT(DISTINCT a.personId) AS n FROM affiliations a JOIN schools s ON s.id = a.schoolId AND s.code = 'MAR' JOIN people p ON p.id = a.personId AND p.role = 'student'
       JOIN accounts ac ON ac.personId = p.id LEFT JOIN printed_cards c ON c.personId = p.id AND c.secretVersion = ac.secretVersion AND c.voidedAt IS NULL WHERE a.ends IS NULL AND c.personId IS NULL`,
    );
    expect(marrow.people - marrow.link.card).toBe(lacking!.n);
    expect(lacking!.n).toBe(17);
    expect((await facets({ school: marrow.id, lacks: 'card' })).total).toBe(17);
    expect(today.waits.map((w) => w.text)).toContain(
      '17 printed cards are out of date: the password or what the card shows changed since',
    );
    const grades = today.readiness.filter((r) => r.parent === marrow.id);
    expect(grades.reduce((sum, r) => sum + r.people, 0)).toBe(marrow.people);
  });
});

describe('the sheaf', () => {
  it('adds up over searches, is one’s own, and is let go', async () => {
    const gather = (body: object) => district.post<SheafState>('/api/sheaf/gather', body);
    const [an, third] = [
      await pages({ q: 'an' }, 'family', false, 1000),
      await pages({ grade: '03' }, 'family', false, 1000),
    ];
    expect((await gather({ filter: { q: 'an' } })).body.count).toBe(an.length);
    const both = new Set([...ids(an), ...ids(third)]);
    const state = (await gather({ filter: { grade: '03' } })).body;
    expect(state.count).toBe(both.size);
    expect(state.byGrade.reduce((sum, g) => sum + g.count, 0)).toBe(both.size);
    expect(ids(await pages({ gathered: true }, 'grade', true, 100))).toEqual([...both].sort());
    const school = await world.as('school');
    expect((await school.get<SheafState>('/api/sheaf')).body.count).toBe(0);
    expect((await district.post<SheafState>('/api/sheaf/let-go', { ids: ids(third) })).body.count).toBe(
      ids(an).filter((id) => !ids(third).includes(id)).length,
    );
    expect((await district.post<SheafState>('/api/sheaf/let-go', { all: true })).body.count).toBe(0);
  });
});

describe('an edit in the record', () => {
  it('applies at once, stands in the ledger, is undone, and gives way to whoever was first', async () => {
    const row = all.find((r) => r.role === 'student')!;
    const before = await world.checksum();
    const edit = (was: string | null, now: string | null, field = 'familyName') =>
      district.post<{ planId: string }>(`/api/people/${row.id}/edit`, { field, before: was, after: now });
    const done = await edit(row.familyName, 'Óskarsdóttir');
    expect((await district.get<PersonSheet>(`/api/people/${row.id}`)).body.person.familyName).toBe('Óskarsdóttir');
    const second = await edit(row.familyName, 'Other');
    expect([second.status, second.body.error]).toEqual([409, expect.stringContaining('“Óskarsdóttir”')]);
    expect((await edit('Óskarsdóttir', '')).status).toBe(422);
    expect((await edit(null, '31/02/2017', 'birthDate')).body.error).toContain('2017-05-04');
    await district.job(`/api/plans/${done.body.planId}/undo`);
    expect(await world.checksum()).toBe(before);
  });

  it('shows a secret only with a reason, and writes down who, whom, when and why', async () => {
    const child = world.signIns.find(({ who }) => who.startsWith('student'))!;
    const { id } = (await pages({ q: child.username }, 'family', false, 10))[0]!;
    expect((await district.post(`/api/people/${id}/reveal`, { why: ' ' })).status).toBe(422);
    expect(
      (await district.post<{ secret: string }>(`/api/people/${id}/reveal`, { why: 'forgot it' })).body.secret,
    ).toBe(child.secret);
    const trail = await world.db.select<Record<string, string>>(
      "SELECT byPersonId, aboutPersonId, at, detail FROM audit WHERE action = 'secret.reveal'",
    );
    expect(trail).toEqual([
      {
        byPersonId: expect.any(String) as string,
        aboutPersonId: id,
        at: expect.stringMatching(/^20.*Z$/) as string,
        detail: 'forgot it',
      },
    ]);
  });
});

describe('what a person keeps', () => {
  it('is gathered people under a name, replaced by the next of that name, and theirs alone', async () => {
    const [first, second, third] = (await pages({ role: 'student' }, 'family', false, 10)).map(({ id }) => id);
    await district.post('/api/sheaf/let-go', { all: true });
    expect((await district.post('/api/sheaves', { name: 'Late' })).status).toBe(422);
    await district.post('/api/sheaf/gather', { ids: [first, second] });
    const kept = (await district.post<KeptSheaf>('/api/sheaves', { name: 'Late' })).body;
    expect(kept).toMatchObject({ name: 'Late', count: 2 });
    await district.post('/api/sheaf/let-go', { ids: [first, second] });
    await district.post('/api/sheaf/gather', { ids: [third] });
    const again = (await district.post<KeptSheaf>('/api/sheaves', { name: 'late' })).body;
    expect(again).toMatchObject({ name: 'late', count: 1 });
    expect((await district.post(`/api/sheaves/${kept.id}/gather`)).status).toBe(404);
    const other = await world.as('school coordinator');
    expect((await other.post(`/api/sheaves/${again.id}/drop`)).status).toBe(404);
    expect((await district.post(`/api/sheaves/${again.id}/drop`)).status).toBe(200);
    expect(await world.db.models.keptPeople.count()).toBe(0);
  });

  it('is what they type, by the name of the form, until it is done', async () => {
    const other = await world.as('school coordinator');
    const draft = async (who: Caller) => (await who.get<{ body: unknown }>('/api/drafts?name=new-class')).body.body;
    for (const body of [{ name: '3' }, { name: '3A' }]) await district.post('/api/drafts', { name: 'new-class', body });
    expect([await draft(district), await draft(other)]).toEqual([{ name: '3A' }, null]);
    await district.post('/api/drafts', { name: 'new-class', body: null });
    expect(await draft(district)).toBeNull();
    expect((await district.post('/api/drafts', { name: 'new-class', body: 'x'.repeat(500_001) })).status).toBe(413);
  });
});

it('says of each seat that somebody has or lacks by which rule they are entitled, and whether one is free', async () => {
  const rows = await world.db.select<{ personId: string; entitled: number; school: string }>(
    `SELECT p.id AS personId, s.name AS school, EXISTS (SELECT 1 FROM entitlements r WHERE r.productId = l.productId AND r.schoolId = s.id AND (r.ends IS NULL OR r.ends > '2026-08-26')) AS entitled
     FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId
       JOIN seats t ON t.personId = p.id JOIN licenses l ON l.id = t.licenseId JOIN products d ON d.id = l.productId AND d.name = 'Kelpline Algebra'
     WHERE p.role = 'student' AND p.status = 'active' AND (t.ends IS NULL OR t.ends > '2026-08-26') GROUP BY p.id, s.name, entitled`,
  );
  const algebra = async (personId: string) => {
    const { seats, lacksSeats } = (await district.get<PersonSheet>(`/api/people/${personId}`)).body;
    return {
      has: seats.find(({ name }) => name === 'Kelpline Algebra'),
      lacks: lacksSeats.find(({ label }) => label === 'Kelpline Algebra'),
    };
  };
  const entitled = rows.find((row) => Number(row.entitled) === 1)!;
  expect((await algebra(entitled.personId)).has!.why).toEqual([`students at ${entitled.school}`]);
  const without = rows.find((row) => Number(row.entitled) === 0)!;
  expect((await algebra(without.personId)).has!.why).toEqual([]);
  const lacking = all.find(({ lacks, school }) => lacks.includes('seats') && school === 'Skerry Middle')!;
  const { lacks } = await algebra(lacking.id);
  if (lacks) expect([lacks.why, lacks.isFree]).toEqual([['students at Skerry Middle'], true]);
  // A teacher sees that a child lacks one, and not by which rules.
  const teacher = await world.as('teacher');
  const own = (await teacher.get<PeoplePage>('/api/people?role=student&limit=5')).body.rows[0]!;
  const { seats } = (await teacher.get<PersonSheet>(`/api/people/${own.id}`)).body;
  expect(seats.flatMap(({ why }) => why)).toEqual([]);
});
