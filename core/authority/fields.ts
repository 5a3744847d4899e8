/** Rights over the fields of an answer: which fields of a record a viewer may see. */
import { declarationOf, fieldsThat } from '#core/entities/index';
import { type Actor, may, type Right } from './roles';

/** A person's, with the right that each takes. */
const guarded = fieldsThat('person', ({ facts }) => facts.seen).map(
  (field) => [field, declarationOf('person')!.fields[field]!.facts.seen as Right] as const,
);

/** The record with the fields that the actor may not see emptied. */
export function withFields<R extends object>(actor: Pick<Actor, 'role'>, record: R): R {
  const shown = { ...record };
  for (const [field, right] of guarded)
    if (field in shown && !may(actor, right)) Object.assign(shown, { [field]: null });
  return shown;
}
