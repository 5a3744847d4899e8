/** Short forms of given names: whether two names can be those of one person. */
import { nicknameData } from './nicknames-data';

/** Formal names by each name that can stand for them, itself included. */
let formals: Map<string, Set<string>> | null = null;

function read(): Map<string, Set<string>> {
  const map = new Map<string, Set<string>>();
  const add = (name: string, formal: string) => {
    const set = map.get(name);
    if (set) set.add(formal);
    else map.set(name, new Set([formal]));
  };
  for (const entry of nicknameData.split(';')) {
    const [formal = '', shorts = ''] = entry.split(':');
    add(formal, formal);
    for (const short of shorts.split(',')) add(short, formal);
  }
  return map;
}

/** True for "bill" and "william", and for "bill" and "will"; names in lower-case ASCII. */
export function areForms(a: string, b: string): boolean {
  formals ??= read();
  const [x, y] = [formals.get(a), formals.get(b)];
  if (x?.has(b) || y?.has(a)) return true;
  if (!x || !y) return false;
  for (const formal of x) if (y.has(formal)) return true;
  return false;
}

/** True if the name, in lower-case ASCII, is a given name of the data set, in full or short. */
export function isGivenName(name: string): boolean {
  formals ??= read();
  return formals.has(name);
}
