import { inEnglish } from '#core/messages/languages';
import { describe, expect, it } from 'vitest';
import {
  declarationOf,
  entityNames,
  fieldLabel,
  fieldsThat,
  personFields,
  referrersOf,
  secretFields,
  uniqueKeysOf,
} from './index';

describe('the declarations', () => {
  it('come in an order in which rows can be made: what a row names was made before, or is of its own kind', () => {
    for (const [at, entity] of entityNames.entries())
      for (const field of fieldsThat(entity, ({ facts }) => facts.refers)) {
        const { refers } = declarationOf(entity)!.fields[field]!.facts;
        const place = entityNames.findIndex((name) => name === refers);
        expect([entity, field, place >= 0 && place <= (refers === entity ? at : at - 1)]).toEqual([
          entity,
          field,
          true,
        ]);
      }
  });
  it('name no table twice, and fields in words that are no program’s', () => {
    const tables = entityNames.map((entity) => declarationOf(entity)!.table);
    expect(new Set(tables).size).toBe(tables.length);
    for (const entity of entityNames)
      for (const field of declarationOf(entity)!.columns.filter((name) => !name.endsWith('Id')))
        expect(inEnglish(fieldLabel(entity, field))).toMatch(/^[a-z]+([’ -][a-z]+)*$/);
  });
  it('have words for a second row, where what it shares with the first says nothing to a person', () => {
    for (const entity of entityNames)
      for (const { key, fields, message } of uniqueKeysOf(entity)) {
        const says = fields.some((field) => declarationOf(entity)!.fields[field]!.kind !== 'id');
        expect([entity, key, says || message !== null]).toEqual([entity, key, true]);
      }
  });
  it('say what an entity ends by, where it ends', () => {
    for (const entity of entityNames) {
      const { fields, facts } = declarationOf(entity)!;
      expect([entity, fields.ends?.canBeNull ?? false]).toEqual([entity, facts.ends === 'ends']);
    }
  });
  it('tell what must not leave the server, what a merge keeps, and who names a person', () => {
    expect([...secretFields]).toEqual(['secretSealed', 'passwordHash']);
    expect(personFields).toEqual([
      ...['familyName', 'givenName', 'middleName', 'preferredName', 'number', 'birthDate', 'email', 'guardianEmail'],
    ]);
    expect(referrersOf('person').map(({ entity, field }) => `${entity}.${field}`)).toEqual([
      ...['person.mergedInto', 'affiliation.personId', 'enrollment.personId', 'membership.personId'],
      ...['contact.personId', 'seat.personId', 'loan.personId', 'assignee.personId', 'account.personId'],
    ]);
  });
});
