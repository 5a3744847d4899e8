import { everywhere } from '#server/authority/actor';
/** A district's use: statements taken in, and eight weeks of 100,000 people as figures; beside the bare sums of the same rows. */
import { createConnection } from 'mariadb';
import { receive } from '#server/use/receive';
import { UseDesk, usePeople, useSheet } from '#server/use/figures';
import type { Viewer } from '../server/services';
import type { Config } from '#server/config';
import type { Db } from '#server/db/connection';
import { mint } from '#server/plans/mint';
import { verbIri } from '#core/use/index';
import { print, table, timed } from './table';

const weeks = 8;
const batch = 200;
const statements = 20_000;

export async function benchUse(db: Db, at: Config['database']): Promise<void> {
  const [product, license, material] = [mint(), mint(), mint()];
  const address = 'https://products.example/bench/1';
  await db.run("INSERT INTO products (id, name) VALUES (:product, 'Bench Readers')", { product });
  await db.run(
    "INSERT INTO licenses (id, productId, begins, ends, trial) VALUES (:license, :product, '2026-01-01', '2028-01-01', 0)",
    { license, product },
  );
  await db.run(
    "INSERT INTO materials (id, productId, title, kind, minutes, address) VALUES (:material, :product, 'One', 'lesson', 20, :address)",
    { material, product, address },
  );
  const student = "role = 'student' AND status = 'active'";
  await db.run(
    `INSERT INTO seats (id, personId, licenseId, begins) SELECT CONCAT('S', RIGHT(id, 25)), id, :license, '2026-07-01' FROM people WHERE ${student}`,
    { license },
  );
  // Three days a week each, but for every ninth person, who never comes.
  await db.run(
    `INSERT INTO use_days (productId, day, personId, times, seconds) SELECT :product, DATE_ADD('2026-06-22', INTERVAL 7 * (s.seq DIV 3) + 2 * (s.seq MOD 3) DAY), p.id, 1, 300 + 60 * (s.seq + CRC32(p.id) MOD 20)
     FROM (SELECT id FROM people WHERE ${student} AND CRC32(id) MOD 9 > 0) p JOIN seq_0_to_${weeks * 3 - 1} s`,
    { product },
  );
  await db.run(
    'INSERT INTO last_uses (productId, personId, usedOn) SELECT productId, personId, MAX(day) FROM use_days WHERE productId = :product GROUP BY personId',
    { product },
  );
  await db.select('ANALYZE TABLE use_days, seats, last_uses');
  const rows = await db.one<{ n: number }>('SELECT COUNT(*) AS n FROM use_days WHERE productId = :product', {
    product,
  });
  const school = (await db.one<{ id: string }>('SELECT id FROM schools ORDER BY name LIMIT 1'))!.id;
  const classId = (await db.one<{ id: string }>(
    "SELECT id FROM classes WHERE schoolId = :school AND ends IS NULL AND kind = 'homeroom' LIMIT 1",
    { school },
  ))!.id;
  const viewer: Viewer = {
    ...everywhere,
    accountId: '',
    personId: mint(),
    role: 'district',
    schoolIds: [],
    classIds: [],
  };
  const config = { today: () => '2026-08-17' } as Config;
  const of = { db, config, use: new UseDesk(db, config, { slow: Infinity, fresh: 0, most: 0 }) };
  const keeping = { ...of, use: new UseDesk(db, config) };
  const bare = await createConnection({ ...at, database: at.name });
  const sum =
    'SELECT FLOOR(DATEDIFF(d.day, ?) / 7) AS week, SUM(d.seconds), COUNT(DISTINCT d.personId) FROM use_days d';
  const asked: [string, () => Promise<unknown>, string][] = [
    ['use of the district, eight weeks', () => useSheet(of, viewer, { product }), `${sum} GROUP BY 1`],
    [
      'use of a school, by class',
      () => useSheet(of, viewer, { product, school }),
      `${sum} JOIN affiliations a ON a.personId = d.personId AND a.ends IS NULL AND a.schoolId = '${school}' GROUP BY 1`,
    ],
    [
      'use of a class',
      () => useSheet(of, viewer, { product, classId }),
      `${sum} JOIN enrollments e ON e.personId = d.personId AND e.ends IS NULL AND e.classId = '${classId}' GROUP BY 1`,
    ],
    ['who never used it, by name', () => usePeople(of, viewer, { product, stand: 'never' }), `${sum} GROUP BY 1`],
    ['the district again, as it is kept', () => useSheet(keeping, viewer, { product }), `${sum} GROUP BY 1`],
    ['by name, as it is kept', () => usePeople(keeping, viewer, { product, stand: 'never' }), `${sum} GROUP BY 1`],
  ];
  const ms = (seconds: number) => `${(seconds * 1000).toFixed(0)} ms`;
  const out: string[][] = [];
  for (const [what, ask, sql] of asked) {
    await ask();
    const { seconds } = await timed(ask);
    const plain = await timed(() => bare.query(sql, ['2026-06-22']));
    out.push([what, ms(seconds), ms(plain.seconds), `${(seconds / plain.seconds).toFixed(2)} ×`]);
  }
  table(
    `Use of a district: ${Number(rows!.n).toLocaleString('en-US')} days of people`,
    ['', 'Sheaf', 'the bare sums', 'ratio'],
    out,
  );

  const names = (await db.select<{ username: string }>('SELECT username FROM accounts ORDER BY id LIMIT 5000')).map(
    ({ username }) => username,
  );
  const all = Array.from({ length: statements }, (_, i) => ({
    actor: { account: { homePage: 'https://products.example', name: names[i % names.length]! } },
    verb: { id: verbIri('completed') },
    object: { id: address },
    result: { completion: true, duration: 'PT12M', score: { scaled: 0.7 } },
    timestamp: new Date(Date.UTC(2026, 7, 17, 8, 0, i % 3600, i % 1000)).toISOString(),
  }));
  await db.run(
    "INSERT INTO product_keys (productId, name, keyHash, createdBy, createdAt) VALUES (:product, 'bench', '', :by, '2026-08-17T00:00:00.000Z')",
    { product, by: mint() },
  );
  const taken = await timed(async () => {
    for (let from = 0; from < all.length; from += batch) await receive(db, product, all.slice(from, from + batch));
  });
  const rowsBare = all.map((one, i) => [i, one.timestamp, one.actor.account.name]);
  await bare.query('CREATE TEMPORARY TABLE bare_statements (id INT PRIMARY KEY, at CHAR(24), who VARCHAR(64))');
  const plain = await timed(async () => {
    for (let from = 0; from < rowsBare.length; from += batch)
      await bare.batch('INSERT INTO bare_statements VALUES (?, ?, ?)', rowsBare.slice(from, from + batch));
  });
  await bare.end();
  print(`${statements.toLocaleString('en-US')} statements in batches of ${batch}`, [
    {
      what: 'received, each once',
      seconds: taken.seconds,
      count: statements,
      unit: 'statements',
      baseline: { what: 'the bare rows', seconds: plain.seconds },
    },
  ]);
  for (const table of ['seats WHERE licenseId = :license', 'results WHERE materialId = :material'])
    await db.run(`DELETE FROM ${table}`, { license, material });
  for (const name of ['use_days', 'last_uses', 'statements', 'product_keys', 'materials', 'licenses'])
    await db.run(`DELETE FROM ${name} WHERE productId = :product`, { product });
  await db.run('DELETE FROM products WHERE id = :product', { product });
}
