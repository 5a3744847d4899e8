/**
 * Rows of a table with fields of the rows that they name, flat: the models' associations, typed by the declarations.
 * A path is a field, or goes over rows: `license.product.name` of a seat. `open…` and `all…` go to the rows that name
 * this one: `openLoan.deviceId` of a device, of which there may be several rows, or none.
 */
import { col, type IncludeOptions, literal, Op, type Utils, type WhereOptions } from 'sequelize';
import type { Field, Held } from '#core/entities/declare';
import type { Db, Tx } from './connection';
import { type Declared, declared, type Row, type TableName } from './models';

type Fn = Utils.Fn;
type Literal = Utils.Literal;
type Fields<N extends TableName> = Declared[N]['fields'];
type NamedBy<F> = F extends { readonly to?: infer To } ? Extract<To, TableName> : never;
/** Where a step of a path leads, and null if there may be no row. */
type Step<N extends TableName, S extends string> = `${S}Id` extends keyof Fields<N>
  ? { to: NamedBy<Fields<N>[`${S}Id`]>; or: Extract<Row<N>[`${S}Id` & keyof Row<N>], null> }
  : S extends `${infer Name extends keyof Fields<N> & string}One`
    ? { to: NamedBy<Fields<N>[Name]>; or: Extract<Row<N>[Name & keyof Row<N>], null> }
    : S extends `${'open' | 'all'}${infer Other}`
      ? { to: Extract<Uncapitalize<Other>, TableName>; or: null }
      : never;
/** What a path leads to; never: it leads nowhere. */
type At<N extends TableName, P extends string> = P extends `${infer S}.${infer Rest}`
  ? At<Step<N, S>['to'], Rest> extends infer Value
    ? [Value] extends [never]
      ? never
      : Value | Step<N, S>['or']
    : never
  : P extends keyof Row<N>
    ? Row<N>[P]
    : never;
/** What there is for certain where a step must lead to a row. */
type Certain<V, P extends string, Must extends string> = P extends `${Must}.${string}` ? NonNullable<V> : V;

type Paths = Readonly<Record<string, string>>;
type Valid<N extends TableName, O extends Paths> = { [K in keyof O]: [At<N, O[K]>] extends [never] ? never : O[K] };
export type JoinedRow<N extends TableName, F extends keyof Row<N>, O extends Paths, Must extends string> = {
  [K in F]-?: Row<N>[K];
} & { -readonly [K in keyof O]: Certain<At<N, O[K]>, O[K], Must> };

export interface Joining<N extends TableName, F extends keyof Row<N>, O extends Paths, Must extends string> {
  /** Its own fields; without them all. */
  fields?: readonly F[];
  /** Fields of the rows that it names, by what each is called here. */
  of?: O & Valid<N, O>;
  where?: WhereOptions<Row<N>>;
  /** Conditions on the rows that it names, by path. */
  whose?: Readonly<Record<string, unknown>>;
  /** Conditions in SQL, as the authority says them; tables are called as their steps are. */
  within?: readonly string[];
  /** Rows without such a row are left out. */
  must?: readonly Must[];
  /** Paths; with a minus before it the last comes first. Those that are empty come first. */
  order?: readonly (string | Fn | Literal)[];
  limit?: number;
  /** Each such row once. */
  distinct?: boolean;
}

interface Tree {
  [step: string]: Tree;
}
const stepsOf = (path: string): string[] => path.split('.').slice(0, -1);
/** How the database calls a field of a joined row. */
const columnOf = (name: string, path: string): string => {
  const steps = stepsOf(path);
  return `${steps.length ? steps.join('->') : name}.${path.slice(path.lastIndexOf('.') + 1)}`;
};

/** What has not ended by the day: on it, it still holds or is yet to begin. */
export const endsAfter = (day: string) => ({ [Op.or]: [{ [Op.is]: null }, { [Op.gt]: day }] });

/** Rows for which `where`, `whose` and `within` all hold. */
export async function joined<
  N extends TableName,
  const F extends keyof Row<N> & string = keyof Row<N> & string,
  const O extends Paths = Record<never, string>,
  const Must extends string = never,
>(db: Db, name: N, of: Joining<N, F, O, Must>, transaction?: Tx): Promise<JoinedRow<N, F, O, Must>[]> {
  const paths = Object.entries<string>(of.of ?? {});
  const conditions = Object.entries(of.whose ?? {});
  const must = new Set<string>(of.must ?? []);
  const order = (of.order ?? []).map((said) =>
    typeof said === 'string' ? { path: said.replace(/^-/, ''), down: said.startsWith('-') } : said,
  );
  const tree: Tree = {};
  for (const path of [
    ...paths.map(([, p]) => p),
    ...conditions.map(([p]) => p),
    ...order.flatMap((one) => ('path' in one ? one.path : [])),
  ])
    stepsOf(path).reduce((at, step) => (at[step] ??= {}), tree);
  for (const path of must) path.split('.').reduce((at, step) => (at[step] ??= {}), tree);
  // A row that must name another one is joined from either side; any other stays, whether there is one or not.
  const joins = (from: Tree, before: readonly string[], table: TableName, isThere: boolean): IncludeOptions[] =>
    Object.entries(from).map(([step, further]) => {
      const way = [...before, step];
      const fields: Readonly<Record<string, Field<Held> | undefined>> = declared[table].fields;
      const field = fields[`${step}Id`] ?? fields[step.replace(/One$/, '')];
      const required = must.has(way.join('.')) || (isThere && field?.canBeNull === false);
      const to =
        field?.facts.refers ?? `${step.replace(/^(open|all)/, '').replace(/^./, (first) => first.toLowerCase())}`;
      return {
        association: step,
        attributes: [],
        required,
        ...(!field && step.startsWith('open') ? { where: { ends: null } } : {}),
        include: joins(further, way, to as TableName, required),
      };
    });
  const model = db.models[name] as unknown as Selecting;
  return (await model.findAll({
    attributes: [
      ...(of.fields ?? Object.keys(model.getAttributes())),
      ...paths.map(([called, path]) => [col(columnOf(name, path)), called]),
    ],
    include: joins(tree, [], name, true),
    where: {
      [Op.and]: [
        ...(of.where ? [of.where] : []),
        ...conditions.map(([path, value]) => ({ [path.includes('.') ? `$${path}$` : path]: value })),
        ...(of.within ?? []).map((sql) => literal(`(${sql})`)),
      ],
    },
    order: order.map((one) => ('path' in one ? [col(columnOf(name, one.path)), one.down ? 'DESC' : 'ASC'] : one)),
    limit: of.limit,
    subQuery: false,
    ...(of.distinct
      ? { group: [...(of.fields ?? []), ...paths.map(([, path]) => path)].map((path) => col(columnOf(name, path))) }
      : {}),
    raw: true,
    transaction,
  })) as JoinedRow<N, F, O, Must>[];
}
/** What the models have in common, whichever row they hold. */
interface Selecting {
  getAttributes(): Record<string, unknown>;
  findAll(options: object): Promise<unknown>;
}

/** The first of them. */
export const joinedOne = async <
  N extends TableName,
  const F extends keyof Row<N> & string = keyof Row<N> & string,
  const O extends Paths = Record<never, string>,
  const Must extends string = never,
>(
  db: Db,
  name: N,
  of: Joining<N, F, O, Must>,
  transaction?: Tx,
): Promise<JoinedRow<N, F, O, Must> | null> =>
  (await joined<N, F, O, Must>(db, name, { limit: 1, ...of }, transaction))[0] ?? null;
