/** Requests of every route, made up from the schemas by which they are checked: what the border lets through. */
import fc from 'fast-check';
import { z } from 'zod';
import type { RouteName } from '../contract';
import { routes } from '../api/routes/index';

interface Schema {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  items?: Schema;
  properties?: Record<string, Schema>;
  required?: string[];
  propertyNames?: Schema;
  additionalProperties?: Schema | boolean;
  minLength?: number;
  maxLength?: number;
  minimum?: number;
  maximum?: number;
  format?: string;
  pattern?: string;
}
const day = fc.constantFrom('2026-08-17', '2026-02-28', '2020-01-01', '2031-12-31', '0001-01-01');
const word = fc.oneof(
  fc.constantFrom(
    '',
    'a',
    '3B',
    '004117',
    '%',
    '_',
    '\\',
    "'",
    '"; --',
    '=1+1',
    '\u0000',
    '😀',
    'Łapiński',
    '٣',
    '1e9',
    '-1',
    'null',
  ),
  fc.string({ maxLength: 40, unit: 'binary' }),
);

/** What the schema lets through, as far as it says. */
function of(schema: Schema, ids: fc.Arbitrary<string>): fc.Arbitrary<unknown> {
  if (schema.const !== undefined) return fc.constant(schema.const);
  if (schema.enum) return fc.constantFrom(...schema.enum);
  const some = schema.anyOf ?? schema.oneOf;
  if (some) return fc.oneof(...some.map((one) => of(one, ids)));
  if (schema.allOf) return of(schema.allOf[0]!, ids);
  switch (schema.type) {
    case 'null':
      return fc.constant(null);
    case 'boolean':
      return fc.boolean();
    case 'integer':
    case 'number': {
      const { minimum = -1000, maximum = 100_000 } = schema;
      return fc.integer({
        min: Math.ceil(Math.max(minimum, -2_000_000)),
        max: Math.floor(Math.min(maximum, 2_000_000)),
      });
    }
    case 'string': {
      const { minLength = 0, maxLength = 200 } = schema;
      if (minLength === 26 && maxLength === 26) return ids;
      if (schema.format === 'date') return day;
      if (schema.format === 'date-time') return day.map((d) => `${d}T08:00:00.000Z`);
      if (schema.format === 'uri') return fc.constantFrom('http://127.0.0.1:9/', 'https://sheaf.example/x');
      if (schema.pattern) return fc.oneof(fc.constantFrom('LAN', '08:00', 'a-b', '3'), word);
      const long = fc.constant('x'.repeat(Math.min(maxLength, 5000)));
      return fc
        .oneof(
          { weight: 8, arbitrary: word },
          { weight: 3, arbitrary: ids },
          { weight: 2, arbitrary: day },
          { weight: 1, arbitrary: long },
        )
        .map((text) => text.slice(0, maxLength).padEnd(minLength, 'x'));
    }
    case 'array':
      return fc.array(of(schema.items ?? {}, ids), { maxLength: 4 });
    case 'object': {
      const required = new Set(schema.required);
      const fields = Object.fromEntries(
        Object.entries(schema.properties ?? {}).map(([name, one]) => [name, of(one, ids)]),
      );
      if (Object.keys(fields).length > 0)
        return fc.record(fields, { requiredKeys: Object.keys(fields).filter((name) => required.has(name)) });
      const more = schema.additionalProperties;
      const key =
        schema.propertyNames?.type === 'string' && schema.propertyNames.minLength === 26
          ? ids
          : fc.constantFrom('0', '1', '2', '7', 'a');
      return fc.dictionary(key, of(typeof more === 'object' ? more : {}, ids), { maxKeys: 3 });
    }
    default:
      return fc.constantFrom(null, 1, 'a', '2026-08-17', true);
  }
}
const schemaOf = (type: z.ZodType): Schema =>
  z.toJSONSchema(type, { io: 'input', unrepresentable: 'any', reused: 'inline' }) as Schema;

/** Left out: what reaches for something outside, or ends what this test stands on. */
const leftOut = new Set<RouteName>([
  ...([
    'POST /api/sign-out',
    'POST /api/setup',
    'POST /api/profile/sessions/end',
    'POST /api/profile/password',
  ] as const),
  ...(['POST /api/sign-in', 'POST /api/sign-in/card', 'POST /api/sign-in/passkey', 'POST /api/sign-in/code'] as const),
  'POST /api/staff/:id/reset',
]);

export interface Roamed {
  name: RouteName;
  /** What was asked: method, address and body. */
  asked: string;
  status: number;
  text: string;
}
/** As they stand in an address: no ULIDs, other alphabets, broken percent-encoding, a path within. */
const noIds = [
  '%',
  '%E0%A4%A',
  '%zz',
  '%00',
  '%C3%A9',
  '%F0%9F%98%80',
  '..%2F..%2Fhealthz',
  "'--",
  '0',
  'x'.repeat(2000),
];

/**
 * Requests of every route by `ask`: `runs` of those that say something, fewer of the others. The same each time for a
 * seed, but for the ids, which come from `pool`; now and then one is no id at all.
 */
export async function* roam(
  ask: (method: string, address: string, body: unknown) => Promise<Response>,
  pool: readonly string[],
  runs: number,
  seed = Number(process.env.FUZZ_SEED ?? 1),
): AsyncGenerator<Roamed> {
  const ids = fc.oneof(
    { weight: 12, arbitrary: fc.constantFrom(...pool) },
    { weight: 1, arbitrary: fc.constant('01ZZZZZZZZZZZZZZZZZZZZZZZZ') },
  );
  const inAddress = fc.oneof({ weight: 12, arbitrary: ids }, { weight: 2, arbitrary: fc.constantFrom(...noIds) });
  for (const [name, route] of Object.entries(routes) as [RouteName, (typeof routes)[RouteName]][]) {
    if (leftOut.has(name)) continue;
    const [method, path] = name.split(' ') as [string, string];
    const { body, query } = route as { body?: z.ZodType; query?: z.ZodType };
    const requests = fc.record({
      id: inAddress,
      body: body ? of(schemaOf(body), ids) : fc.constant(undefined),
      query: query ? of(schemaOf(query), ids) : fc.constant({}),
    });
    for (const one of fc.sample(requests, { seed, numRuns: body || query ? runs : 6 })) {
      const pairs = Object.entries(one.query as object).flatMap(([key, value]) =>
        value === undefined || value === null ? [] : [[key, String(value)] as [string, string]],
      );
      const address = `${path.replace(/:\w+/, () => one.id)}${pairs.length ? `?${new URLSearchParams(pairs)}` : ''}`;
      const sent = method === 'GET' ? undefined : (one.body ?? {});
      const answer = await ask(method, address, sent);
      const asked = `${method} ${address} ${JSON.stringify(one.body)}`;
      yield { name, asked, status: answer.status, text: await answer.text() };
    }
  }
}
