/** Rights over the fields of an answer: which fields of a record a viewer may see. */
import { type Actor, may, type Right } from './roles';

const guarded = {
  number: 'field.number',
  birthDate: 'field.birthDate',
  guardianEmail: 'field.guardian',
} as const satisfies Record<string, Right>;

/** The record with the fields that the actor may not see emptied. */
export function withFields<R extends Partial<Record<keyof typeof guarded, string | null>>>(
  actor: Pick<Actor, 'role'>,
  record: R,
): R {
  const shown = { ...record };
  for (const [field, right] of Object.entries(guarded) as [keyof typeof guarded, Right][])
    if (field in shown && !may(actor, right)) shown[field] = null as R[typeof field];
  return shown;
}
