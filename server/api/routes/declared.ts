/**
 * Schemas of what an entity's fields take, from its declaration: what the border lets in, the database can keep. A body
 * adds what a field means besides: a grade that there is, an address that opens.
 */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { type Field, unfit } from '#core/entities/declare';
import { type Columns, declarationOf, type Entity, fieldLabel } from '#core/entities/index';
import { id, plain, text } from './route';

/** Text that may be left empty. */
export const maybe = (most: number) =>
  z
    .string()
    .trim()
    .max(most)
    .nullable()
    .transform((value) => value || null);

function schemaOf({ kind, longest, values, canBeNull }: Field): z.ZodType {
  const orNull = (schema: z.ZodType) => (canBeNull ? schema.nullable() : schema);
  if (values) return orNull(z.enum(values as [string, ...string[]]));
  switch (kind) {
    case 'id':
      return orNull(id);
    case 'day':
      return orNull(z.iso.date());
    case 'moment':
      return orNull(z.iso.datetime({ precision: 3 }));
    case 'count':
      return orNull(z.number().int().min(0).max(2_147_483_647));
    case 'small':
      return orNull(z.number().int().min(0).max(127));
    case 'word':
      return orNull(plain(longest ?? 0).trim());
    default:
      return canBeNull ? maybe(longest ?? 0) : text(longest ?? 0);
  }
}

type Shape<E extends Entity, F extends string> = { [K in F]: z.ZodType<Required<Columns<E>>[K & keyof Columns<E>]> };

/** The fields of an entity that are named, each as it is declared. */
export const declared = <E extends Entity, const F extends keyof Columns<E> & string>(
  entity: E,
  names: readonly F[],
): z.ZodObject<Shape<E, F>> =>
  z.object(
    Object.fromEntries(names.map((name) => [name, schemaOf(declarationOf(entity)!.fields[name]!)])) as Shape<E, F>,
  );

/** One field corrected by hand: its value before and after, as text. */
export const edited = <E extends Entity, const F extends keyof Columns<E> & string>(entity: E, names: readonly F[]) => {
  const { fields } = declarationOf(entity)!;
  return z
    .object({
      field: z.enum(names as unknown as [F, ...F[]]),
      before: z.string().max(500).nullable(),
      after: z
        .string()
        .trim()
        .nullable()
        .transform((value) => value || null),
    })
    .superRefine(({ field, after }, context) => {
      const wrong = after === null ? null : unfit(fields[field]!, after);
      if (wrong)
        context.addIssue({ code: 'custom', message: say('api.the', { field: fieldLabel(entity, field), wrong }) });
    });
};
