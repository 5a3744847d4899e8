/**
 * When people last used a product, from a list that its publisher gives out: a heading, then who (username, number
 * or address), the product's name and the day, in whatever order the headings say. The latest day counts.
 */
import Papa from 'papaparse';
import { z } from 'zod';
import { fold } from '#core/names/index';
import type { Product } from '#core/register/index';
import { audit, Fault, orNone, type Services, type Viewer } from '../api/context';
import { inBatches } from '../db/batches';
import { productLabel } from './state';

const headings = {
  who: ['who', 'user', 'username', 'number', 'student number', 'email', 'e-mail', 'login'],
  product: ['product', 'title', 'resource'],
  day: ['day', 'date', 'last use', 'last used', 'used on', 'last sign-in'],
} as const;

export async function takeUses(
  { db, config }: Services,
  viewer: Viewer,
  text: string,
): Promise<{ taken: number; problems: { line: number; message: string }[] }> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: 'greedy' });
  const [head = [], ...rows] = data;
  const at = Object.fromEntries(
    Object.entries(headings).map(([field, words]) => [
      field,
      head.findIndex((cell) => (words as readonly string[]).includes(cell.trim().toLowerCase())),
    ]),
  ) as Record<keyof typeof headings, number>;
  const missing = Object.entries(at).filter(([, column]) => column < 0);
  if (missing.length > 0)
    throw new Fault(
      422,
      `Line 1 has no heading for ${missing.map(([field]) => field).join(' and ')}. Known are ${missing.map(([field]) => headings[field as keyof typeof headings].join(', ')).join('; ')}.`,
    );
  const products = new Map<string, string>();
  for (const product of await db.select<Product>('SELECT * FROM products'))
    for (const name of [product.name, productLabel(product)]) products.set(fold(name), product.id);
  const people = await idsOf(
    db,
    rows.map((row) => row[at.who]?.trim() ?? ''),
  );
  const today = config.today();
  const problems: { line: number; message: string }[] = [];
  const latest = new Map<string, [string, string, string]>();
  rows.forEach((row, i) => {
    const [who, name, day] = [at.who, at.product, at.day].map((column) => row[column]?.trim() ?? '') as [
      string,
      string,
      string,
    ];
    const personId = people.get(who.toLowerCase());
    const productId = products.get(fold(name));
    const wrong = !personId
      ? `“${who}” is nobody’s username, number or address here`
      : !productId
        ? `there is no product “${name}”`
        : !z.iso.date().safeParse(day).success
          ? `“${day}” is no day as in 2026-06-04`
          : day > today
            ? `${day} is still to come`
            : null;
    if (wrong) {
      problems.push({ line: i + 2, message: `${wrong}.` });
      return;
    }
    const key = `${personId}|${productId}`;
    const known = latest.get(key);
    if (!known || known[2] < day) latest.set(key, [personId!, productId!, day]);
  });
  await db.transaction(async (tx) => {
    await db.batch(
      'INSERT INTO last_uses (personId, productId, usedOn) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE usedOn = GREATEST(usedOn, VALUES(usedOn))',
      [...latest.values()],
      tx,
    );
    await audit(db, { by: viewer.personId, action: 'uses.take', detail: `${latest.size} last uses` }, tx);
  });
  return { taken: latest.size, problems: problems.slice(0, 200) };
}

async function idsOf(db: Services['db'], whos: string[]): Promise<Map<string, string>> {
  const asked = [...new Set(whos.filter(Boolean))];
  const ascii = (list: string[]) => orNone(list.filter((who) => /^[\x20-\x7e]+$/.test(who)));
  const rows = await inBatches(asked, 5000, (some) =>
    db.select<{ id: string; number: string | null; email: string | null; username: string | null }>(
      `SELECT p.id, p.number, p.email, ac.username FROM people p LEFT JOIN accounts ac ON ac.personId = p.id
       WHERE p.status <> 'merged' AND (ac.username IN (:names) OR p.number IN (:some) OR p.email IN (:some))`,
      { names: ascii(some).map((who) => who.toLowerCase()), some },
    ),
  );
  const found = new Map<string, string>();
  for (const { id, number, email, username } of rows)
    for (const who of [email, number, username]) if (who) found.set(who.toLowerCase(), id);
  return found;
}
