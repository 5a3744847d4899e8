/** The declarations against the database as the migrations leave it. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Model, ModelStatic } from 'sequelize';
import { World } from '../testing/world';
import type { Field, Held } from '#core/entities/declare';
import { ofMigrations } from './migrate';
import { declared } from './models';

let world: World;
beforeAll(async () => void (world = await World.open('models', { demo: false })));
afterAll(() => world.close());

/** Tables of the migrations themselves. */

const collations: Partial<Record<Field['kind'], string>> = {
  ...{ id: 'ascii_bin', word: 'ascii_bin', moment: 'ascii_bin', exact: 'utf8mb4_bin', name: 'utf8mb4_uca1400_ai_ci' },
  ...{ line: 'utf8mb4_uca1400_as_ci', note: 'utf8mb4_uca1400_as_ci', text: 'utf8mb4_uca1400_as_ci' },
};
const types: Partial<Record<Field['kind'], string>> = {
  ...{ id: 'char(26)', moment: 'char(24)', day: 'date', count: 'int(11)', small: 'tinyint(4)', big: 'bigint(20)' },
  ...{ note: 'text', text: 'longtext' },
};
function columnOf(name: string, { kind, longest, canBeNull, facts }: Field<Held>): string {
  const bytes = longest === null ? 'longblob' : `varbinary(${longest})`;
  const type = kind === 'bytes' ? bytes : kind === 'time' ? 'datetime' : (types[kind] ?? `varchar(${longest})`);
  return [
    name,
    type,
    canBeNull ? 'or null' : 'not null',
    collations[kind] ?? '-',
    facts.hasDefault ? 'filled' : '-',
  ].join(' ');
}

it('say of every table which columns it has, of which kind, and what is unique in it', async () => {
  const columns = await world.db.select<Record<'t' | 'c' | 'y' | 'n' | 'k' | 'd' | 'g', string | null>>(
    `SELECT TABLE_NAME AS t, COLUMN_NAME AS c, COLUMN_TYPE AS y, IS_NULLABLE AS n, COLLATION_NAME AS k, COLUMN_DEFAULT AS d, GENERATION_EXPRESSION AS g
     FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() ORDER BY TABLE_NAME, COLUMN_NAME`,
  );
  const keys = await world.db.select<{ t: string; i: string; c: string }>(
    `SELECT TABLE_NAME AS t, INDEX_NAME AS i, GROUP_CONCAT(COLUMN_NAME ORDER BY SEQ_IN_INDEX) AS c FROM information_schema.STATISTICS
     WHERE TABLE_SCHEMA = DATABASE() AND NON_UNIQUE = 0 GROUP BY TABLE_NAME, INDEX_NAME`,
  );
  const there = (table: string) => [
    ...columns
      .filter(({ t, g }) => t === table && g === null)
      .map(({ c, y, n, k, d }) =>
        [
          c,
          y!.replace('datetime(3)', 'datetime'),
          n === 'YES' ? 'or null' : 'not null',
          k ?? '-',
          d === null || d === 'NULL' ? '-' : 'filled',
        ].join(' '),
      ),
    ...keys.filter(({ t }) => t === table).map(({ i, c }) => `${i === 'PRIMARY' ? 'key' : 'unique'} ${c}`),
  ];
  const said = Object.values(declared).map(({ table, fields, facts, key }) => [
    table,
    [
      ...(key ? [] : ['id char(26) not null ascii_bin -']),
      ...Object.entries<Field<Held>>(fields).map(([name, field]) => columnOf(name, field)),
      `key ${key?.join(',') ?? 'id'}`,
      ...Object.entries<Field<Held>>(fields).flatMap(([name, field]) => (field.facts.unique ? [`unique ${name}`] : [])),
      ...Object.values(facts.unique ?? {}).map((key) => `unique ${key.fields.join(',')}`),
      ...(facts.openOnce ? [`unique ${facts.openOnce.fields.join(',')},isOpen`] : []),
      ...(facts.heldOnce ? ['letGo tinyint(4) or null - -', `unique ${facts.heldOnce.fields.join(',')},isHeld`] : []),
    ].sort(),
  ]);
  const tables = [...new Set(columns.map(({ t }) => t!))].filter((t) => !ofMigrations.has(t));
  expect(Object.fromEntries(said)).toEqual(Object.fromEntries(tables.map((t) => [t, there(t).sort()])));
});

it('are read by the models, with whom each row names', async () => {
  const { models } = world.db;
  for (const model of Object.values<ModelStatic<Model>>(models as never)) await model.findOne();
  const some = await models.enrollment.findAll({ include: ['person', 'class'], limit: 1 });
  expect(some).toEqual([]);
});
