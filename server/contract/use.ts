/** Use: what products told of it, by class and week and person. */
import type { Band, Stand } from '#core/use/index';

export interface UseFilter {
  product?: string;
  school?: string;
  grade?: string;
  classId?: string;
  group?: string;
  /** Days, both included; without them the last eight weeks of which something is told. */
  from?: string;
  to?: string;
}
export type UseStand = Stand;
export interface UseRow {
  id: string;
  name: string;
  school: string;
  students: number;
  /** Of them, those with a seat. */
  seats: number;
  used: number;
  minutes: number;
  /** Minutes by the weeks of the sheet. */
  weeks: number[];
  hurries: number;
}
export interface UseSheet {
  /** When it was counted, and whether that is being done anew. */
  countedAt: string;
  anew: boolean;
  from: string;
  to: string;
  /** Mondays. */
  weeks: string[];
  /** Over all who are asked for; people: who used it at all. */
  byWeek: { minutes: number; people: number }[];
  byProduct: { id: string; label: string; minutes: number[] }[];
  /** A line for each school, or within one for each class. */
  rows: UseRow[];
  counts: Record<UseStand, number>;
  /** All that tell of their use. */
  products: { id: string; label: string }[];
  /** Whom products name and nobody here is called so. */
  strays: { product: string; who: string; times: number; lastOn: string }[];
}
export interface UsePerson {
  id: string;
  name: string;
  number: string;
  school: string;
  className: string;
  /** Has a seat of what is asked for. */
  seat: boolean;
  days: number;
  minutes: number;
  /** The last day of use, ever. */
  lastOn: string | null;
  hurries: boolean;
}
export interface Levels {
  /** Skills that a product reported of the class. */
  skills: { productId: string; product: string; skill: string; people: number }[];
}
/** What is not reached yet in a class, as products report it. */
export interface ClassSkills {
  skills: { product: string; skill: string; notYet: Named[]; nearly: Named[]; reached: number }[];
  /** Missed, and not known since; by how many missed them. */
  words: { product: string; word: string; people: Named[]; times: number; lastAt: string }[];
}
interface Named {
  id: string;
  name: string;
}
export interface LevelOrder {
  classId: string;
  productId: string;
  skill: string;
  how: 'alike' | 'mixed';
  groups: number;
}
export interface LevelGroups {
  groups: { name: string; members: { id: string; label: string; band: Band | null }[] }[];
}

/** What products tell of one student. */
export interface PersonUse {
  /** From which day on minutes are counted. */
  since: string;
  products: { productId: string; label: string; days: number; minutes: number; lastOn: string | null }[];
  /** What they finished, the last first. */
  results: { title: string; at: string; share: number | null; minutes: number | null }[];
  /** The last first. */
  skills: { product: string; skill: string; band: Band; seenOn: string }[];
  /** Missed and not known since; the last first. */
  words: { product: string; word: string; times: number; lastAt: string }[];
}

export interface UseApi {
  'GET /api/people/:id/use': { out: PersonUse };
  /** How many students signed in, a number for each week. */
  'GET /api/use/sign-ins': { query: UseFilter; out: { weeks: string[]; people: number[] } };
  'GET /api/use/skills': { query: { classId: string; group?: string; product?: string }; out: ClassSkills };
  'GET /api/use': { query: UseFilter; out: UseSheet };
  'GET /api/use/people': { query: UseFilter & { stand: UseStand }; out: UsePerson[] };
  /** Puts them all into the sheaf. */
  'POST /api/use/gather': { body: UseFilter & { stand: UseStand }; out: { gathered: number } };
  /** A list as CSV: who (username, number or address), product, day; and minutes, activity, score, skill, words missed where known. */
  'POST /api/uses': { body: { text: string }; out: { taken: number; problems: { line: number; message: string }[] } };
  /** Each product with the key that it reports usage with. */
  'GET /api/product-keys': { out: { id: string; label: string; madeAt: string | null; lastAt: string | null }[] };
  /** A key with which a product sends its records; shown once. */
  'POST /api/products/:id/key': { out: { name: string; secret: string; address: string } };
  'GET /api/levels': { query: { classId: string }; out: Levels };
  'POST /api/levels/preview': { body: LevelOrder; out: LevelGroups };
  'POST /api/levels': { body: LevelOrder; out: { planId: string; sentence: string } };
}
