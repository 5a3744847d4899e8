/** PATCH of SCIM 2.0 (RFC 7644, 3.5.2): add, remove and replace, on an attribute, on part of it, on values that a filter finds. */
import { isObject, type Json, keyIn, namesOf, parseFilter, type Resource, ScimError } from './filter';

export interface Operation {
  /** In any case, as some clients capitalize it. */
  op: string;
  path?: string;
  value?: Json;
}
export const patchSchema = 'urn:ietf:params:scim:api:messages:2.0:PatchOp';
const readOnly = new Set(['id', 'meta', 'schemas']);

/** The resource as it is after the operations; the one given stays as it is. Throws ScimError 400 and leaves all undone. */
export function applyPatch(resource: Resource, operations: readonly Operation[]): Resource {
  const next = structuredClone(resource);
  for (const { op, path, value } of operations) {
    const verb = op.toLowerCase();
    if (!['add', 'remove', 'replace'].includes(verb))
      throw new ScimError(400, 'invalidSyntax', `There is no operation “${op}”.`);
    if (verb === 'remove' && !path) throw new ScimError(400, 'noTarget', 'What is removed must be named by a path.');
    if (!path) {
      if (!isObject(value)) throw new ScimError(400, 'invalidValue', 'Without a path the value holds attributes.');
      for (const [name, one] of Object.entries(value)) at(next, name, verb, one);
    } else at(next, path, verb, value);
  }
  return next;
}

function at(resource: Resource, path: string, verb: string, value: Json | undefined): void {
  const found = /^([^[]+)(?:\[(.*)\](?:\.(.+))?)?$/.exec(path);
  if (!found) throw new ScimError(400, 'invalidPath', `“${path}” is no path.`);
  const [, attribute, filter, sub] = found;
  const names = namesOf(attribute!);
  if (readOnly.has(names[0]!.toLowerCase()))
    throw new ScimError(400, 'mutability', `${names[0]} cannot be changed from outside.`);
  const last = names.pop()!;
  let owner = resource;
  for (const name of names) {
    const key = keyIn(owner, name);
    if (!isObject(owner[key])) owner[key] = {};
    owner = owner[key];
  }
  const key = keyIn(owner, last);
  if (filter !== undefined) within(owner, key, filter, sub, verb, value);
  else if (verb === 'remove') delete owner[key];
  else owner[key] = verb === 'add' ? added(owner[key], value) : (value ?? null);
}

/** Adding to many adds what is not there; adding to one puts the value, or its attributes, in its place. */
function added(old: Json | undefined, value: Json | undefined): Json {
  if (Array.isArray(old)) {
    const seen = new Set(old.map(identity));
    return [...old, ...(Array.isArray(value) ? value : [value ?? null]).filter((one) => !seen.has(identity(one)))];
  }
  return isObject(old) && isObject(value) ? { ...old, ...value } : (value ?? null);
}

/** Members are the same when their value is. */
const identity = (value: Json): string =>
  isObject(value) && typeof value.value === 'string'
    ? `${value.value}|${JSON.stringify(value.type ?? null)}`
    : JSON.stringify(value);

function within(
  owner: Resource,
  key: string,
  filter: string,
  sub: string | undefined,
  verb: string,
  value: Json | undefined,
): void {
  const test = parseFilter(filter);
  const list = owner[key];
  const values = Array.isArray(list) ? list : [];
  const hit = values.filter((one) => isObject(one) && test(one));
  if (verb === 'remove' && sub === undefined) {
    const rest = values.filter((one) => !hit.includes(one));
    if (rest.length > 0) owner[key] = rest;
    else delete owner[key];
    return;
  }
  if (hit.length === 0) throw new ScimError(400, 'noTarget', `Nothing in ${key} fits [${filter}].`);
  owner[key] = values.map((one) => {
    if (!isObject(one) || !hit.includes(one)) return one;
    const next = { ...one };
    if (sub === undefined) return isObject(value) ? { ...next, ...value } : one;
    if (verb === 'remove') delete next[keyIn(next, sub)];
    else next[keyIn(next, sub)] = value ?? null;
    return next;
  });
}
