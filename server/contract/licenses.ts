/** Products, licenses, rules and seats. */
import type { License, Product, Rule } from '#core/entities/index';
import type { RuleTerms } from '#core/licenses/index';

export interface ProductRow {
  id: string;
  /** Name and edition. */
  label: string;
  publisher: string | null;
  lowGrade: string | null;
  highGrade: string | null;
  subject: string | null;
  /** The newer edition, where there is one. */
  supersededBy: { id: string; label: string } | null;
  /** As of the readiness day; `owned` null: site-wide. */
  owned: number | null;
  needed: number;
  held: number;
  lacking: number;
  /** The most by which needed is above owned in this school year, and from when; null: never. */
  short: { count: number; from: string } | null;
  /** So many more are held on the readiness day than licenses have. */
  over: number;
  /** Next end of a license, with nothing after it. */
  runsOut: string | null;
}
export interface SeatStep {
  from: string;
  owned: number | null;
  needed: number;
  held: number;
  /** Held once the proposal is applied. */
  after: number;
}
export interface RuleRow {
  id: string;
  /** In words: "students of grade 3 at Lantern Point". */
  whom: string;
  fields: RuleFields;
  ends: string | null;
  /** The classes that it names. */
  classes: { id: string; name: string }[];
  /** Whose it is; null: the district's. */
  ofSchools: (string | null)[];
  mayEdit: boolean;
}
export interface ProductSheet {
  product: Product;
  row: ProductRow;
  /** Cost and order are for those who pay. */
  licenses: (License & { school: string | null; held: number; mayEdit: boolean })[];
  rules: RuleRow[];
  steps: SeatStep[];
  /** First day after this school year, and what is foreseen to be needed from then on. */
  foreseen: { from: string; needed: number };
  /** What the proposal would do, and what it leaves. */
  proposal: {
    given: number;
    taken: number;
    unmet: { count: number; from: string; to: string; schools: { name: string; count: number }[] } | null;
    /** To buy what is left; null: no price is known, or it is not theirs to know. */
    buyCents: number | null;
  };
  /** Seats of people who need none or do not use theirs; `idle` counts those who are entitled. */
  spare: { stopped: number; notEntitled: number; idle: number; idleDays: number };
  /** Classes in which fewer are entitled than in the rest of their grade. */
  partial: { classId: string; name: string; school: string; missing: number; students: number }[];
  /** Entitled to the older edition, or holding a seat of it. */
  olderEdition: { id: string; label: string; rules: number; held: number } | null;
}
export interface SeatOrder {
  /** Empty: all. */
  productIds: string[];
  /** Takes back all that nobody needs or uses. */
  sweep: boolean;
  idleDays: number;
}
export type LicenseFields = Omit<License, 'id'>;
export type ProductFields = Omit<Product, 'id'>;
export type RuleFields = Pick<Rule, 'productId' | 'role' | 'urgency' | 'begins'> & RuleTerms;

export interface LicensesApi {
  /** Subjects that classes and products have. */
  'GET /api/subjects': { out: { subjects: string[] } };
  'GET /api/products': { out: { products: ProductRow[] } };
  /** The address of the calendar of renewals, which opens without signing in; recorded. */
  'POST /api/calendar': { out: { url: string } };
  'GET /api/products/:id': { query: { idleDays?: number }; out: ProductSheet };
  /** Without an id a new one. */
  'POST /api/products': { body: { id: string | null; fields: ProductFields }; out: { planId: string; id: string } };
  'POST /api/licenses': { body: { id: string | null; fields: LicenseFields }; out: { planId: string; id: string } };
  /** Without an id a new one. */
  'POST /api/rules': { body: { id: string | null; fields: RuleFields }; out: { planId: string; id: string } };
  'POST /api/rules/:id/end': { out: { planId: string } };
  /** The rules of the older edition become the product's. */
  'POST /api/products/:id/take-over': { out: { planId: string } };
  'POST /api/seats/propose': { body: SeatOrder; out: { jobId: string } };
}
