/** The database's models, made from the declarations: of every entity of the register, and of every other table. */
import { DataTypes, type Model, type ModelAttributeColumnOptions, type ModelStatic, type Sequelize } from 'sequelize';
import type { Field, Held, RowOf, TableMap } from '#core/entities/declare';
import { entities, type Entity } from '#core/entities/index';
import { tables } from './tables';

/** By the name of the entity or the table. Of what the directory was sent the entity is a part, the table the whole. */
export const declared = { ...entities, ...tables };
export type Declared = typeof declared;
export type TableName = keyof Declared;
/** Fields that came late are there in every row; only plans of before them do not say them. */
export type Row<N extends TableName> = { [K in keyof RowOf<Declared[N]>]-?: Exclude<RowOf<Declared[N]>[K], undefined> };
/** A row to be made: what may be empty, or is filled by the database, need not be said. */
type Instance<N extends TableName> = Model<Row<N>, Partial<Row<N>>> & Row<N>;
export type Models = { [N in TableName]: ModelStatic<Instance<N>> };

/** The column of a field as Sequelize has it. Its collation is the migrations' business. */
function typeOf({ kind, longest }: Field<Held>): ModelAttributeColumnOptions['type'] {
  switch (kind) {
    case 'id':
      return DataTypes.CHAR(26);
    case 'moment':
      return DataTypes.CHAR(24);
    case 'day':
      return DataTypes.DATEONLY;
    case 'time':
      return DataTypes.DATE(3);
    case 'count':
      return DataTypes.INTEGER;
    case 'small':
      return DataTypes.TINYINT;
    case 'big':
      return DataTypes.BIGINT;
    case 'text':
      return DataTypes.TEXT('long');
    case 'note':
      return DataTypes.TEXT;
    case 'bytes':
      return DataTypes.BLOB('long');
    default:
      return DataTypes.STRING(longest ?? undefined);
  }
}

const attributesOf = (fields: TableMap, key: readonly (string | null)[] | null) => ({
  ...(key ? {} : { id: { type: DataTypes.CHAR(26), primaryKey: true, allowNull: false } }),
  ...Object.fromEntries(
    Object.entries(fields).map(([name, field]): [string, ModelAttributeColumnOptions] => [
      name,
      {
        type: typeOf(field),
        allowNull: field.canBeNull || field.facts.hasDefault === true,
        primaryKey: key?.includes(name) ?? false,
      },
    ]),
  ),
});

/** A field that names a row of another entity is an association of the name before its "Id": `enrollment.person`. */
const oneOf = (field: string): string => (field.endsWith('Id') ? field.slice(0, -2) : `${field}One`);
/** And the other way: `person.allEnrollment`, and of what ends those that have not, `person.openEnrollment`. */
const othersOf = (which: 'all' | 'open', name: TableName): string =>
  `${which}${name[0]!.toUpperCase()}${name.slice(1)}`;

export function modelsOf(sequelize: Sequelize): Models {
  const all = Object.entries(declared) as [TableName, (typeof declared)[TableName]][];
  const models = Object.fromEntries(
    all.map(([name, { table, fields, key }]) => [
      name,
      sequelize.define(name, attributesOf(fields, key), { tableName: table, timestamps: false }),
    ]),
  ) as unknown as Models;
  const byName = models as Record<string, ModelStatic<Model>>;
  for (const [name, { fields }] of all) {
    const named = new Set<string>();
    for (const [field, { facts }] of Object.entries<Field<Held>>(fields)) {
      const other = facts.refers === undefined ? undefined : byName[facts.refers];
      if (!other) continue;
      byName[name]!.belongsTo(other, { foreignKey: field, as: oneOf(field), constraints: false });
      // A row that names another one twice is the other's by the field that is said first.
      if (facts.stays || other === byName[name] || named.has(facts.refers!)) continue;
      named.add(facts.refers!);
      for (const which of ['all', ...('ends' in fields ? (['open'] as const) : [])] as const)
        other.hasMany(byName[name]!, { foreignKey: field, as: othersOf(which, name), constraints: false });
    }
  }
  return models;
}

export interface Namer {
  name: TableName;
  table: string;
  field: string;
  /** It is not the row of whom it names: it stays when they go. */
  stays: boolean;
}
/** Which columns of which tables name a row of an entity. */
export const namersOf = (entity: Entity): Namer[] =>
  (Object.keys(declared) as TableName[]).flatMap((name) =>
    Object.entries<Field<Held>>(declared[name].fields).flatMap(([field, { facts }]) =>
      facts.refers === entity ? [{ name, table: declared[name].table, field, stays: facts.stays === true }] : [],
    ),
  );
/** The model of a table that only its name says: what it holds is not known beforehand. */
export const someModel = (models: Models, name: TableName): ModelStatic<Model<Record<string, Held>>> =>
  models[name] as never;

/** Columns that are not written out, by table: what opens something, and documents about many. */
export const withheldOf = (table: string): ReadonlySet<string> =>
  new Set(
    Object.values(declared)
      .filter((one) => one.table === table)
      .flatMap(({ fields }) =>
        Object.entries<Field<Held>>(fields).flatMap(([field, { facts }]) =>
          facts.secret || facts.withheld ? [field] : [],
        ),
      ),
  );
