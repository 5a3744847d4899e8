/**
 * A small receiver of xAPI 1.0.3 statements (ADL, "Experience API", part three), in batches or one by one. One that
 * cannot be read refuses its batch.
 */
import { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { z } from 'zod';
import type { Statement } from '#core/use/index';
import { Fault } from '../faults';
import type { Services } from '../services';
import { productBy, receive } from '../use/receive';
import { addressOf, type App, type Ctx, type Env } from './border';

const version = '1.0.3';
const mostAtOnce = 1000;

const extensions = z.record(z.string(), z.unknown());
const texts = z.record(z.string(), z.string());
const definition = z.looseObject({
  type: z.string().optional(),
  name: texts.optional(),
  description: texts.optional(),
  extensions: extensions.optional(),
});
const activity = z.looseObject({
  objectType: z.string().optional(),
  id: z.string().min(1).max(400),
  definition: definition.optional(),
});

/** What of a statement is looked at; all else in it is allowed and left. */
const statementSchema = z.looseObject({
  id: z.uuid().optional(),
  actor: z.looseObject({
    objectType: z.string().optional(),
    mbox: z
      .string()
      .max(300)
      .regex(/^mailto:.+@.+$/i, 'is no address as in mailto:a@example.org')
      .optional(),
    account: z.looseObject({ homePage: z.string().optional(), name: z.string().min(1).max(254) }).optional(),
  }),
  verb: z.looseObject({ id: z.string().max(400) }),
  object: activity,
  result: z
    .looseObject({
      completion: z.boolean().optional(),
      success: z.boolean().optional(),
      extensions: extensions.optional(),
      duration: z.string().optional(),
      score: z
        .looseObject({
          scaled: z.number().min(-1).max(1).optional(),
          raw: z.number().optional(),
          min: z.number().optional(),
          max: z.number().optional(),
        })
        .optional(),
    })
    .optional(),
  context: z
    .looseObject({
      contextActivities: z.record(z.string(), z.union([activity, z.array(activity)])).optional(),
      extensions: extensions.optional(),
    })
    .optional(),
  timestamp: z.iso.datetime({ offset: true }).optional(),
});

/** The receiver, under /xapi. */
export function statementRoutes({ db, config }: Services): App {
  const app = new Hono<Env>();
  app.use(
    '/xapi/*',
    bodyLimit({
      maxSize: 4 * 1024 * 1024,
      onError: () => {
        throw new Fault(
          'too-large',
          `The batch is larger than 4 MB. Send no more than ${mostAtOnce} statements at once.`,
        );
      },
    }),
  );
  app.use('/xapi/*', async (c, next) => {
    c.header('X-Experience-API-Version', version);
    await next();
  });
  app.get('/xapi/about', (c) => c.json({ version: [version] }));
  const take = async (c: Ctx, given?: string): Promise<string[]> => {
    if (!/^1\.0(\.\d+)?$/.test(c.req.header('x-experience-api-version') ?? ''))
      throw new Fault('malformed', `X-Experience-API-Version: send ${version}.`);
    const productId = await productBy(db, c.req.header('authorization'), addressOf(c, config));
    let body: unknown;
    try {
      body = await c.req.json();
    } catch {
      throw new Fault('malformed', 'The body is no JSON.');
    }
    const list = Array.isArray(body) ? (body as unknown[]) : [body];
    if (list.length > mostAtOnce) throw new Fault('too-large', `Send no more than ${mostAtOnce} statements at once.`);
    const parsed = z.array(statementSchema).safeParse(list);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      const [nth, ...path] = issue!.path;
      throw new Fault('malformed', `statement ${Number(nth) + 1}: ${path.join('.')}: ${issue!.message}`);
    }
    const statements = parsed.data as Statement[];
    if (given === undefined) return receive(db, productId, statements);
    const [one] = statements;
    if (!one || !z.uuid().safeParse(given).success || (one.id !== undefined && one.id !== given))
      throw new Fault('malformed', 'statementId: it is no UUID, or another one than the statement’s.');
    return receive(db, productId, [{ ...one, id: given }]);
  };
  app.post('/xapi/statements', async (c) => c.json(await take(c)));
  app.put('/xapi/statements', async (c) => {
    await take(c, c.req.query('statementId') ?? '');
    return c.body(null, 204);
  });
  return app;
}
