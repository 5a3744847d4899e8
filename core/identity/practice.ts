/**
 * A made-up school on record and the list that arrives a year later, with the truth of who is who: what matching is
 * measured on. Grades move on, families move, some are new or gone, twins and siblings and namesakes live here, and
 * whoever typed the list made the usual mistakes. All from a seed.
 */
import { pick, type Random, randomFrom, shuffled } from '#core/random/index';
import { fold } from '#core/names/index';
import { nicknameData } from '#core/names/nicknames-data';
import type { Known } from './people';

export interface PracticeOptions {
  seed: number;
  /** Children on record. */
  children: number;
  /** Share of the arriving rows that carry their number, 0 to 1. */
  numbers: number;
  /** Chance of a mistake in each field of an arriving row, 0 to 1. */
  mistakes: number;
  /** Share of families whose address is known, 0 to 1; by default 0.93. */
  addresses?: number;
  /** How many family names there are for each 100 children; by default 20. */
  variety?: number;
  /** How many given names there are; by default 700. Where few are in fashion, many share one and are of an age. */
  givens?: number;
}

export interface Practice {
  existing: Known[];
  incoming: Known[];
  /** Index on record by index of the arriving row; -1: new. */
  truth: Int32Array;
  /** Arriving row's index to index on record of somebody that it must not be merged with: a twin, a number given again. */
  traps: Map<number, number[]>;
}

interface Child extends Known {
  family: number;
  twin: number;
}

const gradeCodes = 'KG 01 02 03 04 05 06 07 08 09 10 11 12'.split(' ');

export function practice({
  seed,
  children,
  numbers,
  mistakes,
  addresses = 0.93,
  variety = 20,
  givens = 700,
}: PracticeOptions): Practice {
  const random = randomFrom(seed);
  const chance = (p: number): boolean => random.real() < p;
  const towns = Math.max(2, Math.round(children / 1500));
  const familyNames = namePool(random, Math.max(150, Math.round((children * variety) / 100)));
  const givenNames = [...new Set(nicknameData.split(';').map((entry) => entry.split(':')[0]!))].slice(0, givens);
  const zipf = <T>(list: T[], skew: number): T =>
    list[Math.min(list.length - 1, Math.floor(list.length * random.real() ** skew))]!;
  const titled = (name: string) => name[0]!.toUpperCase() + name.slice(1);
  const given = () => {
    const name = titled(zipf(givenNames, 2.2));
    if (chance(0.03)) return `${name}-${titled(zipf(givenNames, 2.2))}`;
    return chance(0.08) ? name.replace('e', 'é').replace('o', 'ö') : name;
  };
  const schoolFor = (town: number, grade: number): string =>
    grade <= 5
      ? `Primary ${town * 2 + (town % 2)}`
      : grade <= 8
        ? `Middle ${Math.floor(town / 2)}`
        : `High ${Math.floor(town / 4)}`;
  let nextNumber = 100_000 + Math.floor(random.real() * 50_000);
  const used = new Set<string>();
  let families = 0;
  const household = (): Child[] => {
    const family = families++;
    const surname = zipf(familyNames, 1.8);
    const town = Math.floor(random.real() * towns);
    const kids = 1 + Number(chance(0.45)) + Number(chance(0.12));
    const guardian = `${fold(surname).replaceAll(' ', '').slice(0, 9)}.${fold(given()).slice(0, 6)}${family % 97}@${pick(random, ['post', 'mail', 'home'])}.example`;
    const made: Child[] = [];
    const makeChild = (grade: number, birthDate: string, twin: number): Child => {
      let number: string;
      do number = String((nextNumber += 1 + Math.floor(random.real() * 4))).padStart(7, '0');
      while (used.has(number));
      used.add(number);
      const child: Child = {
        number,
        givenName: given(),
        middleName: chance(0.55) ? given() : '',
        familyName: surname,
        birthDate,
        grade: gradeCodes[grade]!,
        school: schoolFor(town, grade),
        className: `${grade === 0 ? 'K' : grade}${pick(random, ['A', 'B', 'C', 'D'])}`,
        email: '',
        guardianEmail: chance(addresses) ? guardian : '',
        family,
        twin,
      };
      made.push(child);
      return child;
    };
    let grade = Math.floor(random.real() * 13);
    for (let k = 0; k < kids && grade >= 0; k++) {
      const birthDate = dateIn(random, 2020 - grade);
      makeChild(grade, birthDate, -1);
      if (chance(0.011)) {
        const second = makeChild(grade, birthDate, family);
        made.at(-2)!.twin = family;
        while (second.givenName === made.at(-2)!.givenName) second.givenName = given();
      }
      grade -= 1 + Math.floor(random.real() * 3);
    }
    return made;
  };
  const record: Child[] = [];
  while (record.length < children) record.push(...household());

  const moves = new Map<number, number>();
  const newAddress = new Map<number, string>();
  const gone = new Set<number>();
  for (let family = 0; family < families; family++) {
    if (chance(0.05)) moves.set(family, Math.floor(random.real() * towns));
    if (chance(0.06)) newAddress.set(family, `moved${family}@post.example`);
    if (chance(0.025)) gone.add(family);
  }
  const freed: string[] = [];
  const arriving: { child: Child; from: number }[] = [];
  record.forEach((child, from) => {
    const grade = gradeCodes.indexOf(child.grade!) + Number(!chance(0.02));
    if (grade > 12 || gone.has(child.family) || chance(0.015)) {
      freed.push(child.number);
      return;
    }
    const town = moves.get(child.family);
    const before = child.school;
    const townBefore = Number(before.match(/\d+/)![0]);
    const stage = before.split(' ')[0]!;
    const stays = schoolFor(0, grade).split(' ')[0] === stage && town === undefined;
    const home =
      stage === 'Primary' ? Math.floor(townBefore / 2) : stage === 'Middle' ? townBefore * 2 : townBefore * 4;
    const section = chance(0.65) ? child.className.slice(-1) : pick(random, ['A', 'B', 'C', 'D']);
    const email = newAddress.get(child.family);
    arriving.push({
      from,
      child: {
        ...child,
        grade: gradeCodes[grade]!,
        school: stays ? before : schoolFor(town ?? home, grade),
        className: `${grade === 0 ? 'K' : grade}${section}`,
        guardianEmail: child.guardianEmail && email ? email : child.guardianEmail,
      },
    });
  });
  const newcomers = Math.round(children * 0.13);
  for (let k = 0; k < newcomers;) {
    // Some are younger siblings of families on record.
    const sibling = chance(0.15) ? record[Math.floor(random.real() * record.length)]! : null;
    const kids = household();
    for (const child of kids) {
      if (sibling && !gone.has(sibling.family)) {
        child.familyName = sibling.familyName;
        child.guardianEmail = newAddress.get(sibling.family) ?? sibling.guardianEmail;
        child.grade = 'KG';
        child.birthDate = dateIn(random, 2021);
        child.school = schoolFor(Math.floor(random.real() * towns), 0);
      }
      if (freed.length > 0 && chance(0.04))
        child.number = freed.splice(Math.floor(random.real() * freed.length), 1)[0]!;
      arriving.push({ child, from: -1 });
      k++;
      if (sibling) break;
    }
  }
  const rows = shuffled(random, arriving);
  const classSlips = new Map<string, number>();
  const incoming = rows.map(({ child }) => {
    const list = `${child.school}|${child.className}`;
    if (!classSlips.has(list)) classSlips.set(list, random.real());
    return misheard(child, classSlips.get(list)!, { random, chance, mistakes, numbers });
  });
  const truth = Int32Array.from(rows, ({ from }) => from);
  const byFamily = new Map<number, number[]>();
  const byNumber = new Map<string, number>();
  record.forEach((child, i) => {
    byNumber.set(child.number, i);
    if (child.twin >= 0) byFamily.set(child.family, [...(byFamily.get(child.family) ?? []), i]);
  });
  const traps = new Map<number, number[]>();
  rows.forEach(({ child, from }, j) => {
    const twins = (byFamily.get(child.family) ?? []).filter((i) => i !== from && from >= 0 && record[from]!.twin >= 0);
    const recycled = from < 0 ? byNumber.get(child.number) : undefined;
    const list = recycled === undefined ? twins : [...twins, recycled];
    if (list.length > 0) traps.set(j, list);
  });
  return { existing: record.map(known), incoming, truth, traps };
}

/** The child without what only the truth knows. */
function known(child: Child): Known {
  const row: Partial<Child> = { ...child };
  delete row.family;
  delete row.twin;
  return row as Known;
}

interface Slips {
  random: Random;
  chance: (p: number) => boolean;
  mistakes: number;
  numbers: number;
}

/** The child as a hurried list has it; `list` is a number that all rows of one class list share. */
function misheard(child: Child, list: number, { random, chance, mistakes, numbers }: Slips): Known {
  const row = known(child);
  const wrong = () => chance(mistakes);
  if (!chance(numbers)) row.number = '';
  else if (wrong()) {
    const kind = random.real();
    if (kind < 0.4) row.number = row.number.replace(/^0+/, '');
    else if (kind < 0.7) row.number = transpose(row.number, random);
    else row.number = replaceAt(row.number, random, String(Math.floor(random.real() * 10)));
  }
  if (wrong()) {
    const kind = random.real();
    if (kind < 0.15) row.givenName = '';
    else if (kind < 0.35) row.givenName = shortForm(row.givenName, random);
    else if (kind < 0.5 && row.middleName) {
      row.givenName = row.middleName;
      row.middleName = '';
    } else if (kind < 0.6) [row.givenName, row.familyName] = [row.familyName, row.givenName];
    else if (kind < 0.7) row.givenName = row.givenName.split(/[- ]/)[0]!;
    else row.givenName = typo(row.givenName, random);
  }
  if (wrong()) {
    const kind = random.real();
    if (kind < 0.12) row.familyName = '';
    else if (kind < 0.3) row.familyName = titleCase(syllables(random));
    else if (kind < 0.45) row.familyName = `${row.familyName}-${titleCase(syllables(random))}`;
    else if (kind < 0.6) row.familyName = row.familyName.split(/[- ]/).at(-1)!;
    else row.familyName = typo(row.familyName, random);
  }
  if (wrong()) row.middleName = chance(0.7) ? '' : row.middleName.slice(0, 1);
  if (wrong() && row.birthDate) {
    const [y, m, d] = row.birthDate.split('-') as [string, string, string];
    const kind = random.real();
    if (kind < 0.3) row.birthDate = null;
    else if (kind < 0.6 && Number(d) <= 12) row.birthDate = `${y}-${d}-${m}`;
    else if (kind < 0.8) row.birthDate = `${y}-${m}-${String(1 + Math.floor(random.real() * 28)).padStart(2, '0')}`;
    else row.birthDate = `${Number(y) + (chance(0.5) ? 1 : -1)}-${m}-${d}`;
  }
  if (wrong()) row.grade = chance(0.5) ? null : pick(random, gradeCodes);
  if (wrong()) row.guardianEmail = chance(0.6) ? '' : typo(row.guardianEmail, random);
  if (wrong()) row.className = '';
  if (list < 0.12) {
    for (const field of ['givenName', 'middleName', 'familyName'] as const) row[field] = row[field].toUpperCase();
  } else if (list < 0.24) {
    for (const field of ['givenName', 'middleName', 'familyName'] as const)
      row[field] = row[field].normalize('NFD').replace(/\p{M}/gu, '');
  } else if (list < 0.3) {
    for (const field of ['givenName', 'middleName', 'familyName'] as const)
      row[field] = String.fromCharCode(...new TextEncoder().encode(row[field]));
  }
  return row;
}

const titleCase = (word: string) => word[0]!.toUpperCase() + word.slice(1);

function dateIn(random: Random, year: number): string {
  const day = new Date(Date.UTC(year, 0, 1 + Math.floor(random.real() * 365)));
  return day.toISOString().slice(0, 10);
}

const onsets = 'b br c ch d dr f g gr h j k kl l m n p r s sch st t tr v w z'.split(' ');
const vowels = 'a e i o u ai ei ou á ö'.split(' ');
const codas = 'n r l s t ck nd rt ll m son berg ski man er ez ov in'.split(' ');
const syllables = (random: Random): string =>
  Array.from({ length: 1 + Math.floor(random.real() * 2) }, () => pick(random, onsets) + pick(random, vowels)).join(
    '',
  ) + pick(random, codas);

function namePool(random: Random, size: number): string[] {
  const pool = new Set<string>();
  while (pool.size < size) {
    const name = titleCase(syllables(random));
    const kind = random.real();
    pool.add(
      kind < 0.04
        ? `van der ${name}`
        : kind < 0.07
          ? `de ${name}`
          : kind < 0.12
            ? `${name}-${titleCase(syllables(random))}`
            : name,
    );
  }
  return [...pool];
}

function replaceAt(text: string, random: Random, by: string): string {
  const at = Math.floor(random.real() * text.length);
  return text.slice(0, at) + by + text.slice(at + 1);
}

function transpose(text: string, random: Random): string {
  const at = Math.floor(random.real() * (text.length - 1));
  return text.slice(0, at) + text[at + 1] + text[at] + text.slice(at + 2);
}

function typo(text: string, random: Random): string {
  if (text.length < 2) return text;
  const letter = String.fromCharCode(97 + Math.floor(random.real() * 26));
  const at = Math.floor(random.real() * text.length);
  const kind = random.real();
  if (kind < 0.3) return transpose(text, random);
  if (kind < 0.55) return replaceAt(text, random, letter);
  return kind < 0.8 ? text.slice(0, at) + text.slice(at + 1) : text.slice(0, at) + letter + text.slice(at);
}

const shortForms = new Map(nicknameData.split(';').map((entry) => entry.split(':') as [string, string]));
function shortForm(name: string, random: Random): string {
  const shorts = shortForms.get(name.toLowerCase());
  return shorts ? titleCase(pick(random, shorts.split(','))) : name.slice(0, Math.max(3, name.length - 2));
}
