/** What the border lets in of each field that is declared: all that the register can keep, and no more. */
import { expect, it } from 'vitest';
import type { z } from 'zod';
import type { Field } from '#core/entities/declare';
import { entities, entityNames } from '#core/entities/index';
import { declared, edited } from './declared';

it('fits every field of every entity, by length, by kind, and whether it may be empty', () => {
  const wrong: string[] = [];
  for (const entity of entityNames) {
    const fields = Object.entries<Field>(entities[entity].fields);
    const { shape } = declared(entity, fields.map(([name]) => name) as never[]);
    for (const [name, { kind, longest, values, canBeNull }] of fields) {
      const takes = (value: unknown) => (shape as Record<string, z.ZodType>)[name]!.safeParse(value).success;
      const told = (what: string, is: boolean) => is || wrong.push(`${entity}.${name}: ${what}`);
      told('null', takes(null) === canBeNull);
      if (values) told('its values', values.every(takes) && !takes('none such'));
      else if (longest !== null && kind !== 'bytes')
        told('its length', takes('a'.repeat(longest)) && !takes('a'.repeat(longest + 1)));
      if (kind === 'day') told('days', takes('2028-02-29') && !takes('2027-02-29') && !takes('today'));
      if (kind === 'count' || kind === 'small') told('numbers', takes(7) && !takes(-1) && !takes(0.5) && !takes('7'));
      if (kind === 'word' && !values) told('plain letters', !takes('é'));
    }
  }
  expect(wrong).toEqual([]);
});

it('says which field does not fit, and what fits', () => {
  const read = edited('class', ['name', 'subject']).safeParse({
    field: 'subject',
    before: null,
    after: 's'.repeat(81),
  });
  expect(read.error?.issues.map(({ message }) => message)).toEqual(['The subject must have at most 80 characters.']);
  // What is emptied is nothing.
  expect(edited('class', ['subject']).parse({ field: 'subject', before: 'Art', after: ' ' }).after).toBeNull();
});
