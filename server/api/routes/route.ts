/** What every file of routes uses: the shape of a route, and pieces of what comes in. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import type { Services, Viewer } from '../../services';
import type { Api, RouteName } from '../../contract';

type BodyOf<R extends RouteName> = Api[R] extends { body: infer B } ? B : undefined;
type QueryOf<R extends RouteName> = Api[R] extends { query: infer Q } ? Q : undefined;

export interface Request<R extends RouteName> extends Services {
  /** For routes open to anyone there may be nobody. */
  viewer: Viewer;
  params: { id: string };
  body: BodyOf<R>;
  query: QueryOf<R>;
  address: string;
}

export interface Route<R extends RouteName> {
  body?: z.ZodType<BodyOf<R>>;
  query?: z.ZodType<QueryOf<R>>;
  /** Takes the bytes of the body as they are, see upload. */
  handle: (request: Request<R>) => Promise<Api[R]['out']>;
}

export type Routes = { [R in RouteName]: Route<R> };

export const id = z.string().length(26);
export const flag = z.stringbool().optional();
export const filterShape = {
  q: z.string().max(100).optional(),
  school: id.optional(),
  grade: z.enum(gradeCodes).optional(),
  classId: id.optional(),
  group: id.optional(),
  plan: id.optional(),
  role: z.enum(['student', 'staff']).optional(),
  lacks: z.enum(['account', 'class', 'seats', 'device', 'card', 'signed-in']).optional(),
  card: z.literal('outdated').optional(),
  product: id.optional(),
  seat: z.enum(['holds', 'lacks', 'spare']).optional(),
  status: z.enum(['active', 'left', 'held', 'past']).optional(),
};
export const queryFilter = z.object({ ...filterShape, gathered: flag });
/** What the database keeps as plain letters, and does not compare with others. */
export const plain = (most: number) =>
  z
    .string()
    .max(most)
    .regex(/^[\x20-\x7e]*$/);
export const text = (most: number) => z.string().trim().min(1, say('api.isEmpty')).max(most);
