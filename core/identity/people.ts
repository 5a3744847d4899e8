/**
 * People made ready to be compared: text folded, numbers stripped, words turned into small integers so that two
 * lists of 100,000 fit in a few megabytes and equal means the same integer. -1 stands for "not given".
 */
import { fold, undoMisdecoding } from '#core/names/index';
import { isParticle } from '#core/names/particles';
import { type Spelled, spelled } from './similarity';

/** What is known of a person. Everything may be empty; dates yyyy-mm-dd, also such as no calendar has (2014-02-31). */
export interface Known {
  number: string;
  givenName: string;
  middleName: string;
  familyName: string;
  birthDate: string | null;
  /** A grade's code, see core/tabular. */
  grade: string | null;
  school: string;
  className: string;
  email: string;
  guardianEmail: string;
  /** Parts of a postal address or the like, the same ones in the same order for everybody. */
  others?: string[];
}

const gradeOrder = 'IT PR PK TK KG 01 02 03 04 05 06 07 08 09 10 11 12 13'.split(' ');

/** Words to integers and back. */
export class Words {
  private readonly ids = new Map<string, number>();
  readonly list: string[] = [];
  /** -1 for the empty word. */
  id(word: string): number {
    if (word === '') return -1;
    let id = this.ids.get(word);
    if (id === undefined) {
      id = this.list.length;
      this.ids.set(word, id);
      this.list.push(word);
    }
    return id;
  }
}

/** A name in its parts, as comparison wants it. */
export interface Name {
  /** All letters joined: "vanderberg". */
  whole: Spelled;
  /** The words of it, particles left out unless there is nothing else; and those joined: "berg". */
  words: string[];
  strong: Spelled;
}

/** Names by integer; what is compared often is looked up by it. */
export class Names {
  private readonly words = new Words();
  readonly list: Name[] = [];
  id(text: string, dropParticles: boolean): number {
    const folded = foldName(text);
    const id = this.words.id(folded);
    if (id >= 0 && !this.list[id]) {
      const all = folded.split(' ');
      const strong = dropParticles ? all.filter((word) => !isParticle(word)) : all;
      const words = strong.length > 0 ? strong : all;
      this.list[id] = { whole: spelled(all.join('')), words, strong: spelled(words.join('')) };
    }
    return id;
  }
}

/** Mis-decoded letters are put right first; titles and what stands in brackets or quotes is left out. */
function foldName(text: string): string {
  if (text === '') return '';
  if (/^[A-Za-z]+$/.test(text)) return text.toLowerCase();
  const bare = (undoMisdecoding(text) ?? text).replace(/\(.*?\)|"[^"]*"/g, ' ');
  return fold(bare).replace(/ (jr|sr|ii|iii)$/, '');
}

/** "004117" and "4117" are one number: zeros in front are what spreadsheets lose. */
export const bareNumber = (number: string): string =>
  number
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '')
    .replace(/^0+(?=.)/, '');

export interface Shared {
  given: Names;
  family: Names;
  numbers: Words;
  schools: Words;
  classes: Words;
  guardians: Words;
  emails: Words;
  others: Words[];
}

export const shared = (others: number): Shared => ({
  given: new Names(),
  family: new Names(),
  numbers: new Words(),
  schools: new Words(),
  classes: new Words(),
  guardians: new Words(),
  emails: new Words(),
  others: Array.from({ length: others }, () => new Words()),
});

export interface Side {
  count: number;
  number: Int32Array;
  given: Int32Array;
  middle: Int32Array;
  family: Int32Array;
  /** yyyymmdd, or -1. */
  birth: Int32Array;
  grade: Int8Array;
  school: Int32Array;
  className: Int32Array;
  guardian: Int32Array;
  email: Int32Array;
  others: Int32Array[];
}

/** `people` in columns; both sides of a comparison take the same `words`. */
export function prepare(people: readonly Known[], words: Shared): Side {
  const n = people.length;
  const column = () => new Int32Array(n).fill(-1);
  const side: Side = {
    count: n,
    number: column(),
    given: column(),
    middle: column(),
    family: column(),
    birth: column(),
    grade: new Int8Array(n).fill(-1),
    school: column(),
    className: column(),
    guardian: column(),
    email: column(),
    others: words.others.map(column),
  };
  people.forEach((person, i) => {
    side.number[i] = words.numbers.id(bareNumber(person.number));
    side.given[i] = words.given.id(person.givenName, false);
    side.middle[i] = words.given.id(person.middleName, false);
    side.family[i] = words.family.id(person.familyName, true);
    side.birth[i] = person.birthDate ? Number(person.birthDate.replaceAll('-', '')) : -1;
    side.grade[i] = person.grade === null ? -1 : gradeOrder.indexOf(person.grade);
    side.school[i] = words.schools.id(fold(person.school));
    side.className[i] = words.classes.id(
      person.className === '' ? '' : `${fold(person.school)}|${fold(person.className)}`,
    );
    side.guardian[i] = words.guardians.id(person.guardianEmail.toLowerCase().trim());
    side.email[i] = words.emails.id(person.email.toLowerCase().trim());
    person.others?.forEach((text, k) => (side.others[k]![i] = words.others[k]!.id(fold(text).replaceAll(' ', ''))));
  });
  return side;
}
