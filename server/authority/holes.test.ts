/**
 * Ways by which authority was once passed on, each tried as its user would: taking over an account above one's own, a
 * list that takes another school's child, older invitations, a role that was lost, the last coordinator.
 */
import { inEnglish } from '#core/messages/languages';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { IntakePair, IntakePreview, IntakeRow, JoinRequest, PersonSheet } from '../contract';
import { emptyDraft } from '../intake/reader';
import { Mailbox } from '../testing/mailbox';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let school: Caller;
let mailbox: Mailbox;
let skm: string;
beforeAll(async () => {
  world = await World.open('holes');
  [district, school] = [await world.as('district'), await world.as('school')];
  mailbox = await Mailbox.start();
  world.config.mail = mailbox.mail;
  skm = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
});
afterAll(async () => {
  mailbox.stop();
  await world.close();
});
const tokenIn = (text: string) => new URL(text.match(/https?:\/\/\S+/)![0]).hash.slice(1);

/** A coordinator of the district whose place is at the school, so that the school's coordinator sees the record. */
async function superior(): Promise<{ id: string; email: string | null }> {
  const { body } = await district.post<{ invitationIds: string[] }>('/api/staff', {
    people: [
      { givenName: 'Odile', familyName: 'Overseer', email: 'odile@isles.example', schoolId: skm, role: 'district' },
    ],
    anyway: [0],
  });
  expect(body.invitationIds).toHaveLength(1);
  return (await world.db.one<{ id: string; email: string | null }>(
    "SELECT id, email FROM people WHERE email = 'odile@isles.example'",
  ))!;
}

describe('a person above one’s own role', () => {
  it('is not edited, invited, reset, suspended, merged or handed a link for by a coordinator of the same school', async () => {
    const { id, email } = await superior();
    expect((await school.get<PersonSheet>(`/api/people/${id}`)).status).toBe(200);
    const edit = { field: 'email', before: email, after: 'mine@isles.example' };
    expect((await school.post(`/api/people/${id}/edit`, edit)).status).toBe(403);
    expect((await school.post(`/api/staff/${id}/invite`)).status).toBe(403);
    expect((await school.post(`/api/staff/${id}/reset`)).status).toBe(403);
    expect((await school.get(`/api/people/${id}/whole`)).status).toBe(403);
    const invitation = (await world.db.one<{ id: string }>('SELECT id FROM invitations WHERE personId = :id', { id }))!;
    expect((await school.post(`/api/invitations/${invitation.id}/link`)).status).toBe(403);
    const contact = { id: null, remove: false, name: 'x', email: null, phone: '1', relation: null };
    expect((await school.post(`/api/people/${id}/contacts`, contact)).status).toBe(403);
    const colleague = (await world.db.one<{ id: string }>(
      "SELECT ac.personId AS id FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL WHERE ac.role = 'teacher' AND a.schoolId = :skm LIMIT 1",
      { skm },
    ))!;
    const merged = await school.post('/api/pairs/merge', { keep: colleague.id, gone: id });
    expect(merged.status).toBe(403);
    expect(await world.db.one('SELECT email, status FROM people WHERE id = :id', { id })).toEqual({
      email: 'odile@isles.example',
      status: 'active',
    });
  });
});

describe('an invitation', () => {
  it('that is older opens nothing once there is a newer one, nor any once the password was chosen', async () => {
    await district.post('/api/staff', {
      people: [
        { givenName: 'Ines', familyName: 'Invited', email: 'ines@isles.example', schoolId: skm, role: 'teacher' },
      ],
      anyway: [],
    });
    await world.work();
    const id = (await world.db.one<{ id: string }>("SELECT id FROM people WHERE email = 'ines@isles.example'"))!.id;
    await school.post(`/api/staff/${id}/invite`);
    await world.work();
    const mine = (await mailbox.letters()).filter(({ to }) => to === 'ines@isles.example');
    expect(mine).toHaveLength(2);
    const [newer, older] = mine.map(({ text }) => tokenIn(text)) as [string, string];
    const open = async (token: string) => (await world.send('POST', '/api/invited/open', { token })).status;
    expect([await open(older), await open(newer)]).toEqual([404, 200]);
    const choose = async (token: string, password: string) =>
      (await world.send('POST', '/api/invited', { token, password })).status;
    expect(await choose(newer, 'ferry at dawn')).toBe(200);
    // Made again by hand in the database: the password is there, so nothing is an invitation any more.
    await world.db.run(
      "UPDATE invitations SET usedAt = NULL, expiresAt = '2030-01-01T00:00:00.000Z' WHERE personId = :id",
      { id },
    );
    expect([await choose(older, 'mine at dusk now'), await choose(newer, 'mine at dusk now')]).toEqual([404, 404]);
    expect((await school.post(`/api/staff/${id}/invite`)).body.error).toContain('has signed in before');
    await world.signIn('iinvited', 'ferry at dawn');
  });
});

describe('a list', () => {
  it('with another school’s child says no more than that, and asks for a transfer that both schools agree to', async () => {
    const child = (await world.db.one<{
      id: string;
      number: string;
      familyName: string;
      givenName: string;
      birthDate: string;
      guardianEmail: string;
      schoolId: string;
    }>(
      `SELECT p.id, p.number, p.familyName, p.givenName, p.birthDate, p.guardianEmail, a.schoolId FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
       WHERE a.schoolId = (SELECT id FROM schools WHERE code = 'MAR') AND p.role = 'student' AND p.number IS NOT NULL AND p.birthDate IS NOT NULL
         AND NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND o.familyName = p.familyName AND o.givenName = p.givenName) ORDER BY p.id LIMIT 1`,
      { skm },
    ))!;
    // Whom the school reaches for the child.
    await world.db.run("UPDATE people SET guardianEmail = 'guardian-of-one@isles.example' WHERE id = :id", {
      id: child.id,
    });
    child.guardianEmail = 'guardian-of-one@isles.example';
    const own = (await world.db.one<{ number: string; familyName: string; givenName: string; birthDate: string }>(
      "SELECT p.number, p.familyName, p.givenName, p.birthDate FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId = :skm WHERE p.role = 'student' AND p.number IS NOT NULL AND p.birthDate IS NOT NULL ORDER BY p.id LIMIT 1",
      { skm },
    ))!;
    const line = (one: typeof own, grade = '6') =>
      `${one.number},${one.familyName},${one.givenName},${one.birthDate},${grade}`;
    const upload = async (rows: string[]) => {
      const text = `Student number,Family name,Given name,Birth date,Grade\n${rows.join('\n')}\n`;
      const { id } = (await school.post<{ id: string }>('/api/intakes?name=list.csv', Buffer.from(text))).body;
      await school.post(`/api/intakes/${id}/draft`, { ...emptyDraft(skm) });
      return id;
    };
    const told = async (id: string) =>
      JSON.stringify([
        (await school.get<IntakePreview>(`/api/intakes/${id}`)).body.outcome,
        (await school.get<{ rows: IntakeRow[] }>(`/api/intakes/${id}/rows?from=0&count=20`)).body.rows.map(
          ({ note, state }) => [note, state],
        ),
        (await school.get<IntakePair[]>(`/api/intakes/${id}/pairs`)).body.map(({ why, candidates }) => [
          why,
          candidates,
        ]),
      ]);
    const slip = `${child.birthDate.slice(0, 3)}${(Number(child.birthDate[3]) + 1) % 10}${child.birthDate.slice(4)}`;
    // With a slip in the birth date, and with the child's number but another name: nothing of the record comes back.
    for (const rows of [
      [`,${child.familyName},${child.givenName},${slip},6`],
      [`${child.number},Unknown,Person,2014-01-01,6`],
    ]) {
      const words = await told(await upload(rows));
      expect(words).toContain('student at another school');
      for (const value of [
        child.birthDate,
        child.guardianEmail,
        ...(rows[0]!.includes(child.number) ? [child.familyName] : [child.number]),
      ])
        expect([words.includes(value), value]).toEqual([false, value]);
    }
    const id = await upload([line(child), line(own, '8')]);
    expect(await told(id)).toContain('that school is asked for a transfer');
    const before = await world.db.select('SELECT * FROM affiliations WHERE personId = :id ORDER BY id', {
      id: child.id,
    });
    const planned = await school.job(`/api/intakes/${id}/plan`);
    await school.apply(planned.result!.planId!);
    expect(
      await world.db.select('SELECT * FROM affiliations WHERE personId = :id ORDER BY id', { id: child.id }),
    ).toEqual(before);

    // It waits at the school where the child is, not at the one that asks.
    expect((await school.get<JoinRequest[]>('/api/requests')).body.filter(({ kind }) => kind === 'transfer')).toEqual(
      [],
    );
    const other = await world.at(child.schoolId, 'school');
    const [request] = (await other.get<JoinRequest[]>('/api/requests')).body.filter(({ kind }) => kind === 'transfer');
    expect(request).toMatchObject({ familyName: child.familyName, toSchool: 'Skerry Middle' });
    const settled = await other.post(`/api/requests/${request!.id}/settle`, { accept: true, personId: null });
    expect([settled.status, settled.body.error]).toEqual([200, undefined]);
    expect(
      await world.db.one('SELECT schoolId FROM affiliations WHERE personId = :id AND ends IS NULL', { id: child.id }),
    ).toEqual({ schoolId: skm });
    // Now the child is the new school's alone.
    expect((await other.get(`/api/people/${child.id}`)).status).toBe(403);
    expect((await school.get(`/api/people/${child.id}`)).status).toBe(200);
  });
});

describe('a role that was lost', () => {
  it('takes its plans along: they are neither applied nor undone nor released any more', async () => {
    const me = (await school.get<{ personId: string }>('/api/me')).body.personId;
    const rows = (await school.get<{ rows: { id: string }[] }>('/api/people?role=student&limit=2')).body.rows;
    await school.post('/api/sheaf/gather', { ids: rows.map(({ id }) => id) });
    const first = (await school.job('/api/sheaf/plan', { verb: 'hold' })).result!.planId!;
    expect((await school.job(`/api/plans/${first}/apply`)).status).toBe('done');
    const second = (await school.job('/api/sheaf/plan', { verb: 'release' })).result!.planId!;
    expect((await district.post(`/api/staff/${me}/role`, { role: 'teacher' })).status).toBe(200);
    // The session ended with the role.
    expect((await school.get('/api/me')).status).toBe(401);
    const demoted = await world.as('school');
    for (const act of [`${second}/apply`, `${first}/undo`])
      expect([act, (await demoted.post(`/api/plans/${act}`, {})).status]).toEqual([act, 403]);
    // A job that waited when the role was taken is refused as well.
    await world.db.run(
      "INSERT INTO jobs (id, kind, input, status, byPersonId, createdAt) VALUES ('01ZZZZZZZZZZZZZZZZZZZZZZZA', 'plan.apply', :input, 'waiting', :me, '2026-08-17T00:00:00.000Z')",
      { input: JSON.stringify({ planId: second }), me },
    );
    await world.work();
    const job = (await world.db.one<{ status: string; error: string }>(
      "SELECT status, error FROM jobs WHERE id = '01ZZZZZZZZZZZZZZZZZZZZZZZA'",
    ))!;
    expect([job.status, inEnglish((JSON.parse(job.error) as { message: string }).message)]).toEqual([
      'failed',
      'Your role does not allow this.',
    ]);
    await district.post(`/api/staff/${me}/role`, { role: 'school' });
    school = await world.as('school');
    expect((await school.job(`/api/plans/${first}/undo`, {})).status).toBe('done');
  });
});

describe('the last coordinator of the district', () => {
  it('is neither merged away nor demoted, by a plan or by an undo', async () => {
    const me = (await district.get<{ personId: string }>('/api/me')).body.personId;
    // The other one cannot sign in, so is none.
    const colleague = (await world.db.one<{ id: string }>(
      "SELECT ac.personId AS id FROM accounts ac JOIN people p ON p.id = ac.personId WHERE ac.role = 'teacher' AND p.status = 'active' AND ac.passwordHash IS NULL LIMIT 1",
    ))!;
    const merged = await district.post('/api/pairs/merge', { keep: colleague.id, gone: me });
    expect(merged.status).not.toBe(200);
    expect(await world.db.one('SELECT role, status FROM accounts WHERE personId = :me', { me })).toEqual({
      role: 'district',
      status: 'active',
    });
    // A second one, the first gives the role away, and then would undo what made the second.
    const second = (await world.db.one<{ id: string; username: string }>(
      "SELECT personId AS id, username FROM accounts WHERE username = 'iinvited'",
    ))!;
    const { planId } = (await district.post<{ planId: string }>(`/api/staff/${second.id}/role`, { role: 'district' }))
      .body;
    const heir = await world.signIn('iinvited', 'ferry at dawn');
    expect((await heir.post(`/api/staff/${me}/role`, { role: 'teacher' })).status).toBe(200);
    const undone = await heir.job(`/api/plans/${planId}/undo`, {});
    expect([undone.status, undone.error?.message]).toEqual([
      'failed',
      expect.stringContaining('no coordinator who can sign in'),
    ]);
    expect((await heir.post(`/api/staff/${me}/role`, { role: 'district' })).status).toBe(200);
    district = await world.as('district');
  });
});
