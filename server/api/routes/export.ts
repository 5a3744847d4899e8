/** Worksheets as files: which there are, who may have them, and by what they are filtered. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { z } from 'zod';
import { grades as gradeCodes, template } from '#core/tabular/index';
import { csvFile, type ExportFile, workbookFile } from '../../exports/file';
import type { Table } from '../../papers/maker';
import {
  archiveTable,
  asOfFile,
  changeTable,
  classTable,
  deviceTable,
  ledgerTable,
  materialTable,
  mostRows,
  peopleTable,
  productTable,
  sectionTable,
  useTable,
  progressTable,
  workTable,
} from '../../exports/lists';
import { rosterZip } from '../../exports/roster';
import { asOfLists } from '../../people/asof-lists.queries';
import { dueLeavers } from '../../retention/foresee';
import { usePeople } from '../../use/figures';
import { Fault, notFound } from '../../faults';
import type { Services, Viewer } from '../../services';
import { audit } from '../../trail';
import { type ExportName, exportNames, type RouteName } from '../../contract';
import { deviceFilter } from './device';
import { ledgerRows } from '../../plans/history';
import { planOf } from './plan';
import { flag, id, plain, queryFilter } from './route';
import { useFilter, useStand } from './use';

const grade = z.enum(gradeCodes);
const words = z.string().max(100).optional();

interface Exported {
  /** Whoever may look at this may have it as a file. */
  seen: RouteName;
  table: (services: Services, viewer: Viewer, raw: unknown) => Promise<Table>;
}
const of = <Q>(
  seen: RouteName,
  query: z.ZodType<Q>,
  table: (services: Services, viewer: Viewer, query: Q) => Promise<Table>,
): Exported => ({ seen, table: (services, viewer, raw) => table(services, viewer, query.parse(raw)) });

/** Headings alone, to be filled in and imported. */
const emptyTemplate: Table = { header: Object.values(template), rows: [] };

const exported: Record<ExportName, Exported> = {
  people: of('GET /api/people', queryFilter, peopleTable),
  classes: of('GET /api/classes', z.object({ school: id.optional(), grade: grade.optional(), q: words }), classTable),
  devices: of('GET /api/devices', deviceFilter, deviceTable),
  materials: of(
    'GET /api/materials',
    z.object({ classId: id.optional(), product: id.optional(), q: words }),
    materialTable,
  ),
  work: of('GET /api/work', z.object({ classId: id.optional(), school: id.optional(), past: flag }), workTable),
  progress: of('GET /api/classes/:id/progress', z.object({ class: id }), (services, viewer, query) =>
    progressTable(services, viewer, query.class),
  ),
  use: of('GET /api/use', useFilter.extend({ stand: useStand }), async (services, viewer, query) =>
    useTable(await usePeople(services, viewer, query)),
  ),
  products: of('GET /api/products', z.object({}), async ({ licenses }) => productTable(await licenses.products())),
  ledger: of('GET /api/ledger', z.object({ q: words, day: z.iso.date().optional() }), async ({ db }, viewer, query) => {
    const rows: Awaited<ReturnType<typeof ledgerRows>> = [];
    for (let before: string | undefined; rows.length < mostRows;) {
      const page = await ledgerRows(db, viewer, { ...query, before });
      rows.push(...page);
      before = page.at(-1)?.id;
      if (before === undefined) break;
    }
    return ledgerTable(rows);
  }),
  'as-of': of(
    'GET /api/ledger/as-of',
    z.object({
      day: z.iso.date(),
      school: id.optional(),
      grade: grade.optional(),
      q: words,
      list: z.enum(asOfLists).optional().catch(undefined),
    }),
    asOfFile,
  ),
  changes: of(
    'GET /api/plans/:id/changes',
    z.object({ plan: id, kind: plain(120).optional() }),
    async (services, viewer, { plan, kind }) =>
      changeTable(services, await planOf({ ...services, viewer, params: { id: plan } }), kind ?? null),
  ),
  archive: of('GET /api/archive', z.object({ q: words }), (services, viewer, { q }) =>
    archiveTable(services, viewer, q),
  ),
  sections: of('GET /api/year/split', z.object({ school: id, grade }), (services, viewer, query) => {
    if (!inScope(viewer, query.school)) throw notFound(say('api.thisGrade'));
    return sectionTable(services, query.school, query.grade);
  }),
  template: of('GET /api/intakes', z.object({}), () => Promise.resolve(emptyTemplate)),
  leavers: of('GET /api/retention', z.object({}), async ({ db, config }) => ({
    header: ['Name', 'Number', 'Role', 'Left on'],
    rows: (await dueLeavers(db, config, mostRows)).map((one) => [one.name, one.number, one.role, one.leftOn]),
  })),
};

/** `allow` throws unless the viewer may use the route. Throws Fault missing and malformed. */
export async function exportFile(
  services: Services,
  viewer: Viewer,
  list: string,
  raw: Record<string, string>,
  allow: (route: RouteName) => void,
): Promise<ExportFile> {
  const name = exportNames.find((one) => one === list);
  if (!name) throw new Fault('missing', say('api.thereIsNoSuchList'));
  const { db, config } = services;
  const { seen, table } = exported[name];
  allow(seen);
  const { format } = z.object({ format: z.enum(['csv', 'xlsx', 'roster']) }).parse(raw);
  const told = (detail: string) => audit(db, { by: viewer.personId, action: 'export', detail });
  if (format === 'roster') {
    if (name !== 'people') throw new Fault('malformed', say('api.theRosterStandardCoversPeople'));
    allow('GET /api/intakes');
    await told(say('api.rosterBundle'));
    return {
      name: `roster-${config.today()}.zip`,
      type: 'application/zip',
      bytes: await rosterZip(services, viewer),
    };
  }
  const found = await table(services, viewer, raw);
  await told(say('api.rows', { count: found.rows.length, name }));
  const file = `${name}-${config.today()}`;
  return format === 'csv' ? csvFile(file, found) : workbookFile(services.papers, file, found);
}
