/** Amounts of money as people write them, and the fields of new rows. */
import { locale } from '@/words';
import { addDays } from '#core/time/index';
import type { LicenseFields, ProductFields, RuleFields } from '../../server/contract';

export const money = (cents: number): string =>
  (cents / 100).toLocaleString(locale, {
    style: 'currency',
    currency: 'USD',
    maximumFractionDigits: cents % 100 ? 2 : 0,
  });

/** Cents, or null where nothing or nothing sensible is written. */
export function cents(text: string): number | null {
  const number = Number(text.replace(/[$,\s]/g, ''));
  return text.trim() === '' || !Number.isFinite(number) || number < 0 ? null : Math.round(number * 100);
}

/** The fields of a product, empty where there is none yet. */
export const productFields = (from: ProductFields | null): ProductFields => ({
  name: from?.name ?? '',
  publisher: from?.publisher ?? null,
  edition: from?.edition ?? null,
  lowGrade: from?.lowGrade ?? null,
  highGrade: from?.highGrade ?? null,
  subject: from?.subject ?? null,
  supersedes: from?.supersedes ?? null,
});
export const newLicense = (productId: string, year: { begins: string; ends: string }): LicenseFields => ({
  productId,
  schoolId: null,
  seats: 100,
  begins: year.begins,
  ends: year.ends,
  costCents: null,
  orderNumber: null,
  trial: 0,
});
/** Those who renew a license go on from the day after it ends, for as long as a year, and know the new price and order later. */
export function renewal(of: LicenseFields): LicenseFields {
  const [year, rest] = [Number(of.ends.slice(0, 4)) + 1, of.ends.slice(4)];
  return {
    ...of,
    begins: addDays(of.ends, 1),
    // February 29 comes back every four years.
    ends: `${year}${rest === '-02-29' ? '-02-28' : rest}`,
    costCents: null,
    orderNumber: null,
    trial: 0,
  };
}
export const newRule = (productId: string, school: string | null): RuleFields => ({
  ...{ productId, role: 'student', urgency: 2, begins: null },
  ...{ schools: school === null ? [] : [school], grades: [], subjects: [], classes: [] },
  except: { schools: [], grades: [], classes: [] },
});
/** Keys of what an urgency of 1, 2 and 3 is called. */
export const urgencies = ['licenses.goodToHave', 'licenses.taughtWith', 'licenses.lessonsStopWithoutIt'] as const;
