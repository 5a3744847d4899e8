/**
 * Filters of SCIM 2.0 (RFC 7644, 3.4.2.2): `userName eq "x"`, `emails[type eq "work" and value ew "example.com"]`,
 * and, or, not, brackets. Attribute names and operators in any case; text is compared without regard to case, as
 * attributes are unless their schema says otherwise; ids exactly.
 */
export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };
export type Resource = { [key: string]: Json };
export type Test = (resource: Resource) => boolean;

export class ScimError extends Error {
  constructor(
    readonly status: 400 | 404 | 409,
    readonly scimType: string,
    message: string,
  ) {
    super(message);
  }
}
const bad = (text: string): ScimError => new ScimError(400, 'invalidFilter', text);

export const isObject = (value: Json | undefined): value is Resource =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The key of an attribute as the resource has it, whatever its case. */
export const keyIn = (resource: Resource, name: string): string =>
  Object.keys(resource).find((key) => key.toLowerCase() === name.toLowerCase()) ?? name;

/** What is at an attribute's path; of a multi-valued one what is at it in each. `urn:…:User:employeeNumber` is one of an extension. */
export function valuesAt(resource: Resource, path: string): Json[] {
  let from: Json[] = [resource];
  for (const name of namesOf(path))
    from = from.flatMap((one) => {
      if (!isObject(one)) return [];
      const value = one[keyIn(one, name)];
      return value === undefined || value === null ? [] : Array.isArray(value) ? value : [value];
    });
  return from;
}

/** "name.familyName" to its parts, with the colons of an extension's URN left alone. */
export function namesOf(path: string): string[] {
  const urn = /^(urn:[^[]*:[^:.[]+):([^:]+)$/i.exec(path);
  return urn ? [urn[1]!, ...urn[2]!.split('.')] : path.toLowerCase().startsWith('urn:') ? [path] : path.split('.');
}

const tokens = /\s*(\(|\)|\[|\]|"(?:[^"\\]|\\.)*"|[^\s()[\]"]+)/gy;

/** Throws ScimError 400 invalidFilter. */
export function parseFilter(text: string): Test {
  const list: string[] = [];
  tokens.lastIndex = 0;
  for (let found = tokens.exec(text); found; found = tokens.exec(text)) {
    list.push(found[1]!);
    if (tokens.lastIndex === text.trimEnd().length) break;
  }
  const parser = new Parser(list);
  const test = parser.either();
  if (!parser.atEnd) throw bad(`“${text}” goes on where it should end.`);
  return test;
}

class Parser {
  private at = 0;
  constructor(private readonly list: string[]) {}
  get atEnd(): boolean {
    return this.at === this.list.length;
  }
  private get word(): string {
    return (this.list[this.at] ?? '').toLowerCase();
  }
  private take(expected?: string): string {
    const token = this.list[this.at++];
    if (token === undefined || (expected !== undefined && token.toLowerCase() !== expected))
      throw bad(`Expected ${expected ?? 'more'}, found ${token ?? 'the end'}.`);
    return token;
  }

  either(): Test {
    const parts = [this.both()];
    while (this.word === 'or') {
      this.take();
      parts.push(this.both());
    }
    return (r) => parts.some((part) => part(r));
  }
  private both(): Test {
    const parts = [this.one()];
    while (this.word === 'and') {
      this.take();
      parts.push(this.one());
    }
    return (r) => parts.every((part) => part(r));
  }
  private one(): Test {
    if (this.word === 'not') {
      this.take();
      const inner = this.one();
      return (r) => !inner(r);
    }
    if (this.word === '(') {
      this.take();
      const inner = this.either();
      this.take(')');
      return inner;
    }
    const path = this.take();
    if (this.word === '[') {
      this.take();
      const inner = this.either();
      this.take(']');
      return (r) => valuesAt(r, path).some((value) => isObject(value) && inner(value));
    }
    const op = this.take().toLowerCase();
    if (op === 'pr') return (r) => valuesAt(r, path).some((value) => value !== '');
    const compare = comparisons[op];
    if (!compare) throw bad(`There is no operator “${op}”.`);
    const wanted = literal(this.take());
    const exact = /(^|\.)(id|externalId|value|\$ref)$/i.test(path) && op === 'eq';
    const plain = (value: Json) => (typeof value === 'string' && !exact ? value.toLowerCase() : value);
    return (r) => {
      const values = valuesAt(r, path).flatMap((value) =>
        isObject(value) && value.value !== undefined ? [value.value] : [value],
      );
      return op === 'ne'
        ? !values.some((value) => plain(value) === plain(wanted))
        : values.some((value) => compare(plain(value), plain(wanted)));
    };
  }
}

const text = (test: (a: string, b: string) => boolean) => (a: Json, b: Json) =>
  typeof a === 'string' && typeof b === 'string' && test(a, b);
const order = (test: (a: number) => boolean) => (a: Json, b: Json) =>
  typeof a === typeof b && (typeof a === 'string' || typeof a === 'number') && test(a < b! ? -1 : a > b! ? 1 : 0);
const comparisons: Record<string, (a: Json, b: Json) => boolean> = {
  eq: (a, b) => a === b,
  ne: (a, b) => a !== b,
  co: text((a, b) => a.includes(b)),
  sw: text((a, b) => a.startsWith(b)),
  ew: text((a, b) => a.endsWith(b)),
  gt: order((n) => n > 0),
  ge: order((n) => n >= 0),
  lt: order((n) => n < 0),
  le: order((n) => n <= 0),
};

function literal(token: string): Json {
  try {
    return JSON.parse(token) as Json;
  } catch {
    throw bad(`${token} is no value: text stands in quotes.`);
  }
}
