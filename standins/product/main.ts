/**
 * A product that children learn with, simulated: it tells of its use by statements of the open xAPI 1.0.3, sent to a
 * receiver with a key of its own, as a product does at night.
 *   node --import tsx standins/product/main.ts --port 8316 --to http://127.0.0.1:8200/xapi --name product-x --secret …
 * POST /week {"monday", "who": ["tabara", …], "materials": [{"address", "minutes"}], "skill"} makes up a week of use and
 * sends it; POST /again sends the last week once more, as after a failure. With --key instead of --name and --secret it
 * is all products of the demo: /product/material is the page of a material, where a child works on it and its result is
 * told at once, by a key of that product.
 */
import { createHash, randomUUID } from 'node:crypto';
import { parseArgs } from 'node:util';
import { serve } from '@hono/node-server';
import { Hono } from 'hono';
import { getCookie, setCookie } from 'hono/cookie';
import { z } from 'zod';
import { randomFrom } from '#core/random/index';
import { objective, type Statement, verbIri } from '#core/use/index';
import { keyNameOf } from '../../demo/product';
import { donePage, materialPage } from './pages';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '8316' },
    to: { type: 'string' },
    name: { type: 'string', default: '' },
    secret: { type: 'string', default: '' },
    /** Secret of the keys of all products, each named after its product. */
    key: { type: 'string' },
  },
});
const atOnce = 200;
const order = z.object({
  monday: z.iso.date(),
  who: z.array(z.string()).max(100_000),
  materials: z.array(z.object({ address: z.string(), minutes: z.number() })).min(1),
  skill: z.string().nullable(),
  /** Asked for one by one, each an interaction of its own. */
  words: z.array(z.string()).default([]),
});

/** An id that is the same for the same statement, so that one that is sent twice is known again. */
function idOf(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-5${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** Each works on one material a day from Monday to Friday, in some days not, and finishes it; one score of the skill, and each word once. */
function weekOf({ monday, who, materials, skill, words }: z.infer<typeof order>): Statement[] {
  return who.flatMap((name, person) => {
    const r = randomFrom(Number.parseInt(idOf(`${monday} ${name}`).slice(0, 7), 16));
    const actor = { objectType: 'Agent', account: { homePage: 'https://products.example', name } };
    const made: Statement[] = [];
    for (let day = 0; day < 5; day++) {
      if (day > 0 && r.below(3) === 0) continue;
      const material = materials[(person + day) % materials.length]!;
      const seconds = Math.round(material.minutes * 60 * (0.5 + r.below(100) / 100));
      const at = new Date(Date.parse(monday) + day * 86_400_000 + (9 * 60 + r.below(300)) * 60_000);
      made.push({
        actor,
        verb: { id: verbIri('completed') },
        object: { objectType: 'Activity', id: material.address },
        result: {
          completion: true,
          duration: `PT${Math.floor(seconds / 60)}M${seconds % 60}S`,
          score: { scaled: (30 + r.below(71)) / 100 },
        },
        timestamp: at.toISOString(),
      });
    }
    if (skill)
      made.push({
        actor,
        verb: { id: verbIri('scored') },
        object: {
          objectType: 'Activity',
          id: `https://products.example/skills/${encodeURIComponent(skill)}`,
          definition: { type: objective, name: { en: skill } },
        },
        result: { score: { raw: 1 + r.below(3), min: 1, max: 3 } },
        timestamp: new Date(Date.parse(monday) + 4.6 * 86_400_000).toISOString(),
      });
    for (const [nth, word] of words.entries())
      made.push({
        actor,
        verb: { id: verbIri('answered') },
        object: {
          objectType: 'Activity',
          id: `https://products.example/words/${nth}`,
          definition: { extensions: { 'https://products.example/xapi/word': word } },
        },
        result: { success: r.below(4) > 0 },
        timestamp: new Date(Date.parse(monday) + 3.5 * 86_400_000 + nth * 20_000).toISOString(),
      });
    return made.map((statement) => ({ id: idOf(JSON.stringify(statement)), ...statement }));
  });
}

let last: Statement[] = [];
async function send(
  statements: Statement[],
  name = values.name,
  secret = values.secret,
): Promise<{ sent: number; error: string | null }> {
  for (let from = 0; from < statements.length; from += atOnce) {
    const answer = await fetch(`${values.to}/statements`, {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        'X-Experience-API-Version': '1.0.3',
        Authorization: `Basic ${Buffer.from(`${name}:${secret}`).toString('base64')}`,
      },
      body: JSON.stringify(statements.slice(from, from + atOnce)),
    });
    if (!answer.ok) return { sent: from, error: `${answer.status} ${await answer.text()}` };
  }
  return { sent: statements.length, error: null };
}

const app = new Hono();
app.get('/healthz', (c) => c.json({ status: 'ok' }));
app.post('/week', async (c) => {
  last = weekOf(order.parse(await c.req.json()));
  return c.json({ ...(await send(last)), seconds: secondsOfAll(last) });
});
app.post('/again', async (c) => c.json(await send(last)));

const said = z.object({
  who: z.string().trim().min(1).max(60),
  minutes: z.coerce.number().int().min(1).max(600),
  points: z.coerce.number().int().min(0).max(100),
  missed: z
    .string()
    .max(500)
    .default('')
    .transform((text) => text.split(/[,;]/).flatMap((word) => word.trim() || [])),
});
if (values.key) {
  const key = values.key;
  const back = new URL('/', values.to).href;
  app.get('/:product/:material', (c) => c.html(materialPage(c.req.param(), getCookie(c, 'who') ?? '', back)));
  app.post('/:product/:material', async (c) => {
    const { product, material } = c.req.param();
    const { who, minutes, points, missed } = said.parse(await c.req.parseBody());
    setCookie(c, 'who', who, { httpOnly: true, sameSite: 'Lax' });
    const statement: Statement = {
      actor: { objectType: 'Agent', account: { homePage: 'https://products.example', name: who } },
      verb: { id: verbIri('completed') },
      object: { objectType: 'Activity', id: new URL(c.req.path, c.req.url).href },
      // Without a time of its own it is of the moment at which it is received: the demo has its own day.
      result: {
        ...{ completion: true, duration: `PT${minutes}M`, score: { scaled: points / 100 } },
        extensions: { 'https://products.example/xapi/words-missed': missed },
      },
    };
    const { error } = await send([{ id: randomUUID(), ...statement }], keyNameOf(product), key);
    return c.html(donePage(material, error, back), error ? 502 : 200);
  });
}

/** What was worked in all, so that whoever receives it can be compared. */
function secondsOfAll(statements: readonly Statement[]): number {
  return statements.reduce((sum, { result }) => {
    const [, minutes = 0, seconds = 0] = /PT(\d+)M(\d+)S/.exec(result?.duration ?? '') ?? [];
    return sum + Number(minutes) * 60 + Number(seconds);
  }, 0);
}
serve({ fetch: app.fetch, port: Number(values.port), hostname: '127.0.0.1' });
