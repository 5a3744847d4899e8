/** The district's settings, its schools, and what each offers at its own sign-in address. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { settingsSchema } from '../../district';
import { changeSettings, districtState, door, editSchool, newSchools, tryPattern, ways } from '../../schools/schools';
import type { RouteName } from '../../contract';
import { id, type Routes } from './route';
import { declared } from './declared';

const grade = z.enum(gradeCodes);
const doorText = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9-]{2,30}$/, say('api.useToLowercaseLettersDigits'));
const fields = {
  ...declared('school', ['name', 'code']).shape,
  kind: z.enum(['primary', 'k8', 'middle', 'high', 'evening']),
  lowGrade: grade,
  highGrade: grade,
  door: doorText.nullable(),
  cardText: z.string().max(60, say('api.isTooLongForThe')).nullable(),
  ways: z
    .string()
    .refine(
      (list) => list.split(',').every((way) => (ways as readonly string[]).includes(way)),
      say('api.thereIsNoSuchSign'),
    )
    .nullable(),
};
const schoolForm = z.object({
  name: fields.name,
  code: fields.code.nullable(),
  kind: fields.kind,
  lowGrade: grade,
  highGrade: grade,
  door: fields.door,
});
const {
  usernamePattern,
  numberDigits,
  mostLeaving,
  bands,
  schoolPatterns,
  oneToOne,
  deviceYears,
  digest,
  mostJoining,
  secondFactor,
  signOnDomains,
  consent,
} = settingsSchema.shape;

export const districtRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'district' | 'schools' | 'door' | 'usernames'}${string}`>
> = {
  'GET /api/district': { handle: ({ viewer, ...services }) => districtState(services, viewer) },
  'POST /api/district': {
    body: z
      .object({
        usernamePattern: usernamePattern.unwrap(),
        numberDigits: numberDigits.unwrap(),
        mostLeaving: mostLeaving.unwrap(),
        bands: bands.unwrap(),
        schoolPatterns: schoolPatterns.unwrap(),
        oneToOne: oneToOne.unwrap(),
        deviceYears: deviceYears.unwrap(),
        digest: digest.unwrap(),
        mostJoining: mostJoining.unwrap(),
        secondFactor: secondFactor.unwrap(),
        signOnDomains: signOnDomains.unwrap(),
        consent: consent.unwrap(),
      })
      .partial(),
    handle: async ({ db, viewer, body }) => {
      await changeSettings(db, viewer, body);
      return { ok: true };
    },
  },
  'POST /api/schools': {
    body: schoolForm,
    handle: async ({ viewer, body, ...services }) => {
      const { planId, ids } = await newSchools(services, viewer, [body]);
      return { planId, id: ids[0]! };
    },
  },
  'POST /api/schools/many': {
    body: z.object({ schools: z.array(schoolForm).min(1).max(500) }),
    handle: async ({ viewer, body, ...services }) => {
      const { planId } = await newSchools(services, viewer, body.schools);
      return { planId };
    },
  },
  'POST /api/schools/:id/edit': {
    body: z
      .object({
        field: z.enum(['name', 'code', 'kind', 'lowGrade', 'highGrade', 'door', 'ways', 'cardText']),
        before: z.string().max(200).nullable(),
        after: z
          .string()
          .trim()
          .max(200)
          .nullable()
          .transform((value) => value || null),
      })
      .superRefine(({ field, after }, context) => {
        const read = after === null ? null : fields[field].safeParse(after);
        if (read && !read.success)
          context.addIssue({ code: 'custom', message: read.error.issues[0]?.message ?? say('api.thisDoesntFit') });
      }),
    handle: ({ viewer, params, body, ...services }) => editSchool(services, viewer, params.id, body),
  },
  'GET /api/door': {
    query: z.object({ at: z.string().max(60).optional() }),
    handle: ({ db, config, query }) => door(db, config, query.at),
  },
  'POST /api/usernames/try': {
    body: z.object({ pattern: z.string().max(200), schoolId: id.nullable() }),
    handle: ({ roll, viewer, body }) => tryPattern(roll, viewer, body.pattern, body.schoolId),
  },
};
