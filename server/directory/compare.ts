/** What the directory holds beside what it should: the differences become a plan to send those anew. */
import { say } from '#core/messages/say';
import { differences, type Difference, type Resource } from '#core/directory/index';
import type { Change } from '#core/plan/index';
import type { Db } from '../db/connection';
import type { NewPlan } from '../plans/store';
import { DirectoryClient, type DirectoryAt } from './client';
import { wantedGroups, wantedUsers } from './wanted';

const labels: Record<string, string> = {
  userName: 'username',
  'name.familyName': say('intake.familyName2'),
  'name.givenName': say('intake.givenName2'),
  displayName: say('directory.displayName'),
  userType: 'kind',
  employeeNumber: 'number',
  organization: 'district',
  division: 'school',
};
const some = (list: string[]): string =>
  list.length === 0 ? 'nothing' : list.length > 3 ? say('directory.members', { count: list.length }) : list.join(', ');
const inWords = ({ attribute, held, wanted }: Difference): string =>
  attribute === 'members'
    ? say('directory.shouldNotBeInIt', {
        count: held.filter((id) => !wanted.includes(id)).length,
        missing: wanted.filter((id) => !held.includes(id)).length,
      })
    : say('directory.isShouldBe', { field: labels[attribute] ?? attribute, held: some(held), wanted: some(wanted) });

export async function comparePlan(
  db: Db,
  at: DirectoryAt,
  progress: (seen: number) => void = () => {},
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'waiting'> & { seen: number }> {
  const rows = await db.models.directory.findAll({
    attributes: ['id', 'kind', 'label', 'remoteId', 'sent'],
    where: { state: 'done' },
    raw: true,
  });
  const byRemote = new Map(rows.flatMap((row) => (row.remoteId === null ? [] : [[row.remoteId, row] as const])));
  const remoteOf = new Map(rows.map(({ id, remoteId }) => [id, remoteId]));
  const wanted = new Map([...(await wantedUsers(db)), ...(await wantedGroups(db))].map((one) => [one.id, one]));
  const client = new DirectoryClient(at);
  const changes: Change[] = [];
  const waiting: NonNullable<NewPlan['waiting']> = [];
  const met = new Set<string>();
  const drift = (id: string, label: string, reason: string) =>
    changes.push({
      entity: 'directory',
      id,
      op: 'update',
      before: { state: 'done' },
      after: { state: 'drift' },
      reason,
      label,
      subject: id,
    });
  let seen = 0;
  for (const kind of ['Users', 'Groups'] as const)
    for await (const page of client.all(kind)) {
      progress((seen += page.length));
      for (const held of page) {
        const row = byRemote.get(String(held.id));
        if (!row) {
          const name = String(held.userName ?? held.displayName);
          waiting.push({ line: 0, message: say('directory.isInTheDirectoryBut', { name }) });
          continue;
        }
        met.add(row.id);
        const one = wanted.get(row.id);
        if (!one) continue;
        const differs = differences(one.kind, held, withRemote(one.resource, one.members, remoteOf));
        if (differs.length > 0) drift(row.id, row.label, differs.map(inWords).join('; '));
      }
    }
  for (const { id, label, remoteId } of rows)
    if (remoteId !== null && !met.has(id) && wanted.has(id))
      drift(id, label, say('directory.isMissingFromTheDirectory'));
  return {
    kind: 'directory',
    title: say('directory.correctTheDirectoryDifferences', { count: changes.length }),
    plan: { changes },
    waiting: waiting.slice(0, 500),
    seen,
  };
}

function withRemote(resource: Resource, members: string[], remoteOf: ReadonlyMap<string, string | null>): Resource {
  if (!Array.isArray(resource.members)) return resource;
  return {
    ...resource,
    members: members.flatMap((id) => {
      const value = remoteOf.get(id);
      return value === null || value === undefined ? [] : [{ value }];
    }),
  };
}
