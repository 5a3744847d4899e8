/** What is shown before a print is what is printed: as many pages, the same names on the first sheet, in each layout. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { layouts } from '#core/cards/index';
import type { PrintPreview, PrintRequest, Today } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('print');
  district = await world.as('district');
});
afterAll(() => world.close());
const plain: PrintRequest = {
  layout: 'cards',
  paper: 'A4',
  backs: null,
  stacked: true,
  skip: 0,
  language: null,
  large: true,
  voidOlder: false,
};
const folder = mkdtempSync(join(tmpdir(), 'sheaf-print-'));

async function printed(request: PrintRequest): Promise<{ pages: number; text: string }> {
  const job = await district.job('/api/prints', request);
  expect(job.error).toBeNull();
  const pdf = await district.raw(`/api/prints/${job.result!.printId}/pdf`);
  writeFileSync(join(folder, 'print.pdf'), Buffer.from(await pdf.arrayBuffer()));
  const run = (command: string, ...args: string[]) => execFileSync(command, args, { cwd: folder }).toString();
  return {
    pages: Number(run('pdfinfo', 'print.pdf').match(/Pages:\s+(\d+)/)![1]),
    text: run('pdftotext', '-l', '1', 'print.pdf', '-'),
  };
}

it('has the pages that were promised, and on its first sheet whom the preview shows', async () => {
  const { id: classId } = (await world.db.one<{ id: string }>("SELECT id FROM classes WHERE name = '3B' LIMIT 1"))!;
  for (const layout of layouts)
    for (const more of [{}, { paper: 'Letter', backs: 'long', stacked: false }, { backs: 'short', skip: 5 }] as const) {
      const request: PrintRequest = { ...plain, classId, layout, ...more };
      const preview = (await district.post<PrintPreview>('/api/prints/preview', request)).body;
      const { pages, text } = await printed(request);
      expect([layout, more, pages]).toEqual([layout, more, preview.pages]);
      const words = (s: string) => new Set(s.split(/\s+/));
      const there = words(text);
      const shown = preview.sheets[0]!.items.flatMap((item) => ('text' in item ? item.text.split(/\s+/) : []));
      // Secrets are dots until they are printed, and long words are broken where there is no room.
      const lacking = shown.filter((word) => !there.has(word) && !word.includes('•'));
      expect([layout, more, lacking.slice(0, 5)]).toEqual([layout, more, []]);
      expect(text).not.toContain('••');
    }
});

it('speaks the family’s language where it is known, and the chosen one elsewhere', async () => {
  const [one, other] = await world.db.select<{ id: string }>(
    "SELECT p.id FROM people p JOIN enrollments e ON e.personId = p.id AND e.ends IS NULL JOIN classes c ON c.id = e.classId WHERE c.name = '2A' AND e.role = 'student' ORDER BY p.id LIMIT 2",
  );
  const edited = await district.post(`/api/people/${one!.id}/edit`, { field: 'language', before: null, after: 'pl' });
  expect(edited.status).toBe(200);
  const refused = await district.post(`/api/people/${one!.id}/edit`, { field: 'language', before: 'pl', after: 'xx' });
  expect([refused.status, refused.body.error]).toEqual([422, expect.stringContaining('Cards are available in')]);
  await district.post('/api/sheaf/gather', { ids: [one!.id, other!.id] });
  const texts = async (language: PrintRequest['language']) => {
    return (await printed({ ...plain, sheaf: true, language })).text;
  };
  const [own, spanish] = [await texts(null), await texts('es')];
  expect(own).toContain('hasło');
  expect(own).not.toContain('clave');
  expect(spanish).toContain('hasło');
  expect(spanish).toContain('clave');
});

it('is of those only whose card no longer holds, where that is asked', async () => {
  const { id: classId } = (await world.db.one<{ id: string }>("SELECT id FROM classes WHERE name = '4A' LIMIT 1"))!;
  const request: PrintRequest = { ...plain, classId, voidOlder: true, onlyOutdated: true };
  const before = (await district.post<PrintPreview>('/api/prints/preview', request)).body;
  expect(before.cards).toBeGreaterThan(10);
  await printed({ ...request, onlyOutdated: false });
  const none = await district.post('/api/prints/preview', request);
  expect([none.status, none.body.error]).toEqual([422, 'All of them have a current card.']);
  const [who] = await world.db.select<{ id: string; familyName: string }>(
    "SELECT p.id, p.familyName FROM people p JOIN enrollments e ON e.personId = p.id AND e.ends IS NULL WHERE e.classId = :classId AND e.role = 'student' LIMIT 1",
    { classId },
  );
  // The name on it is another now.
  await district.post(`/api/people/${who!.id}/edit`, {
    field: 'familyName',
    before: who!.familyName,
    after: 'Wrackham',
  });
  expect((await district.post<PrintPreview>('/api/prints/preview', request)).body.cards).toBe(1);
  expect((await printed(request)).text).toContain('Wrackham');
});

it('is of exactly those whose card is out of date, and of a whole school or all of them', async () => {
  const { cards: all } = (
    await district.post<PrintPreview>('/api/prints/preview', { ...plain, wide: { school: null, cards: 'all' } })
  ).body;
  const outdated = { ...plain, wide: { school: null, cards: 'outdated' as const } };
  const waits = (await district.get<Today>('/api/today')).body.waits.find(({ id }) => id === 'cards')!;
  expect(waits.to).toBe('/handouts?wide=outdated');
  const { cards } = (await district.post<PrintPreview>('/api/prints/preview', outdated)).body;
  expect(waits.text).toMatch(new RegExp(`^${cards} printed cards are out of date`));
  const { id: school, n } = (await world.db.one<{ id: string; n: number }>(
    "SELECT s.id, COUNT(*) AS n FROM schools s JOIN affiliations a ON a.schoolId = s.id AND a.ends IS NULL JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active' JOIN accounts ac ON ac.personId = p.id AND ac.status = 'active' AND ac.secretSealed IS NOT NULL WHERE s.code = 'THO' GROUP BY s.id",
  ))!;
  const one = (await district.post<PrintPreview>('/api/prints/preview', { ...plain, wide: { school, cards: 'all' } }))
    .body;
  expect([one.cards, one.cards < all]).toEqual([Number(n), true]);
  // Printed anew, none is left; who has no card at all was never one of them.
  await printed(outdated);
  expect((await district.post('/api/prints/preview', outdated)).status).toBe(422);
});
