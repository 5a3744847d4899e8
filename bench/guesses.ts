/** A hundred thousand guesses at join codes of the running server, with an honest class joining at the same address meanwhile. */
import { keysFrom } from '#server/auth/keys';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClassRow, JoinCode, JoinCodes, Me, PeoplePage } from '#server/contract/index';
import { alone } from '#server/config';
import type { DemoSignIn } from '#server/demo';
import { type LocalDatabase, makeDatabase } from '#server/local/mariadb';
import { Guesser } from '#server/testing/guesses';
import { ServerProcess } from '#server/testing/process';
import { table, timed } from './table';
import { today } from './world';

const total = 100_000;

export async function guesses(database: LocalDatabase): Promise<void> {
  const name = 'sheaf_bench_guesses';
  await makeDatabase(database, name, true);
  const dataFolder = mkdtempSync(join(tmpdir(), 'sheaf-guesses-'));
  const config = {
    port: 0,
    dataFolder,
    url: 'http://127.0.0.1',
    today: () => today,
    key: keysFrom([randomBytes(32)]),
    ...alone,
    database: { ...database, name },
  };
  const server = await ServerProcess.start(config, { args: ['--demo'] });
  try {
    const signIns = JSON.parse(readFileSync(join(dataFolder, 'demo-sign-ins.json'), 'utf8')) as DemoSignIn[];
    const as = async (who: string) => {
      const found = signIns.find((one) => one.who.startsWith(who))!;
      return server.signIn(found.username, found.secret);
    };
    const [district, teacher] = [await as('district'), await as('teacher')];
    const school = (await teacher.get<Me>('/api/me')).schools[0]!;
    const order = {
      schoolId: school.id,
      names: 'Kite club',
      kind: 'course',
      grade: null,
      subject: null,
      likeId: null,
      template: null,
      people: false,
    };
    await teacher.post('/api/classes', order);
    const club = (await teacher.get<ClassRow[]>('/api/classes?q=Kite')) as unknown as ClassRow[];
    const classId = club[0]!.id;
    const code = await teacher.post<JoinCode>('/api/codes', { classId, schoolId: null, days: 14, usesMost: 400 });
    const { rows } = await district.get<PeoplePage>(`/api/people?school=${school.id}&role=student&limit=1000`);
    const names = rows.map((row) => `${row.familyName} ${row.givenName}`);
    const honest = rows
      .filter((row, i) => row.number && names.indexOf(names[i]!) === names.lastIndexOf(names[i]!))
      .slice(0, 28);
    const guesser = new Guesser(server.base, code.code.replaceAll('-', '').length);
    let inside = 0;
    const { seconds } = await timed(async () => {
      const guessing = guesser.guess(total);
      while (guesser.sent < total / 5) await new Promise((next) => setTimeout(next, 50));
      for (const { familyName, givenName, number } of honest) {
        const { status, body } = await guesser.post({ code: code.code, familyName, givenName, number });
        if (status === 200 && body.state === 'in') inside++;
      }
      await guessing;
    });
    const after = await district.get<PeoplePage>(`/api/people?classId=${classId}&role=student&limit=1000`);
    const { risk } = await teacher.get<JoinCodes>(`/api/codes?classId=${classId}`);
    const answers = [...guesser.statuses]
      .map(([status, n]) => `${n.toLocaleString('en-US')} answered ${status}`)
      .join(', ');
    table(
      'Guessing join codes',
      ['', ''],
      [
        [`${total.toLocaleString('en-US')} guesses in ${seconds.toFixed(0)} s`, answers],
        ['let in by guessing', String(after.rows.length - inside)],
        [`of an honest class of ${honest.length} at the same address`, `${inside} are in`],
        ['chance that a day of guessing finds the code', `1 in ${Math.round(1 / risk).toLocaleString('en-US')}`],
      ],
    );
  } finally {
    await server.stop();
    rmSync(dataFolder, { recursive: true, force: true });
  }
}
