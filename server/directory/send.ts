/**
 * Sending to the directory what it should hold. A row for each person and class says what waits; a row is done only
 * once the directory has said so. An answer that is lost leaves it unknown whether the thing was done, so the next try
 * looks first: by Sheaf's own id, which every resource carries. However often it is begun anew, everything is there once.
 */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { isObject, patchFor, type Kind, type Resource } from '#core/directory/index';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { DirectoryClient, type DirectoryAt, type Kinds, Later, No } from './client';
import { queue, type Wanted } from './wanted';
import { noteSent } from './queries';

interface Item {
  id: string;
  kind: Kind;
  remoteId: string | null;
  sent: string | null;
  /** `drift`: the directory holds something else than was sent, so what it holds is looked at first. */
  state: 'due' | 'drift';
  tries: number;
  notBefore: number;
}

export interface SendResult {
  sent: number;
  failed: number;
  /** Left for the next time: nothing answered for too long. */
  left: number;
}

const inFlight = 8;
/** After so many tries a thing waits for the next run. */
const mostTries = 12;
/** So long nothing may answer before the run ends. */
const patienceMs = 90_000;
const collection = (kind: Kind): Kinds => (kind === 'User' ? 'Users' : 'Groups');

export async function sendAll(
  db: Db,
  at: DirectoryAt,
  progress: (done: number, total: number) => void = () => {},
): Promise<SendResult> {
  const wanted = await queue(db);
  const result: SendResult = { sent: 0, failed: 0, left: 0 };
  const total = await db.models.directory.count({ where: { state: ['due', 'drift'] } });
  const sender = new Sender(db, new DirectoryClient(at), wanted, result, () =>
    progress(result.sent + result.failed, total),
  );
  // Classes name their people by the directory's ids, so people come first.
  for (const kind of ['User', 'Group'] as const) await sender.run(kind);
  return result;
}

class Sender {
  private remote = new Map<string, string>();
  private done: unknown[][] = [];
  private downSince: number | null = null;

  constructor(
    private readonly db: Db,
    private readonly client: DirectoryClient,
    private readonly wanted: ReadonlyMap<string, Wanted>,
    private readonly result: SendResult,
    private readonly tell: () => void,
  ) {}

  async run(kind: Kind): Promise<void> {
    const rows = await this.db.models.directory.findAll({
      attributes: ['id', 'kind', 'remoteId', 'sent', 'state', 'tries'],
      where: { kind, state: ['due', 'drift'] },
      order: ['id'],
      raw: true,
    });
    if (kind === 'Group')
      this.remote = new Map(
        (
          await this.db.models.directory.findAll({
            attributes: ['id', 'remoteId'],
            where: { kind: 'User', remoteId: { [Op.not]: null } },
            raw: true,
          })
        ).map(({ id, remoteId }) => [id, remoteId!]),
      );
    const waiting = rows.map(({ id, kind, remoteId, sent, state }): Item => ({
      ...{ id, kind: kind as Kind, remoteId, sent, state: state as Item['state'], tries: 0, notBefore: 0 },
    }));
    const worker = async () => {
      for (;;) {
        const now = performance.now();
        if (this.downSince !== null && now - this.downSince > patienceMs) return;
        const next = waiting.findIndex(({ notBefore }) => notBefore <= now);
        if (next < 0) {
          if (waiting.length === 0) return;
          await new Promise((wait) => setTimeout(wait, 50));
          continue;
        }
        const [item] = waiting.splice(next, 1) as [Item];
        if (await this.attempt(item)) waiting.push(item);
      }
    };
    await Promise.all(Array.from({ length: inFlight }, worker));
    await this.flush();
    this.result.left += waiting.length;
  }

  /** True: to be tried again. */
  private async attempt(item: Item): Promise<boolean> {
    try {
      const remoteId = await this.bring(item);
      this.downSince = null;
      const sent = this.wanted.get(item.id);
      if (sent && this.lacksSomeone(sent)) {
        // Who could not be sent is still to come into it, so it stays due.
        await this.db.models.directory.update(
          { remoteId, sent: JSON.stringify(this.resourceOf(sent)), sentAt: nowIso() },
          { where: { id: item.id } },
        );
        this.result.left++;
        return false;
      }
      this.done.push([
        remoteId,
        remoteId && sent ? JSON.stringify(this.resourceOf(sent)) : null,
        nowIso(),
        item.id,
        sent?.hash ?? '-',
      ]);
      this.result.sent++;
      if (this.done.length >= 100) await this.flush();
    } catch (error) {
      if (error instanceof Later) {
        if (!error.isDown) this.downSince = null;
        else this.downSince ??= performance.now();
        // A directory that is down is no fault of the thing that was to be sent.
        if (!error.isDown) item.tries++;
        const backOff = Math.min(15_000, 200 * 2 ** Math.max(1, item.tries)) * (0.5 + Math.random());
        item.notBefore = performance.now() + (error.waitMs ?? (error.isDown ? 500 : backOff));
        item.state = 'drift';
        if (item.tries < mostTries) return true;
        await this.failed(item, 'due', error.message);
        this.result.left++;
        return false;
      }
      if (!(error instanceof No)) throw error;
      await this.failed(item, 'failed', error.message);
      this.result.failed++;
    }
    this.tell();
    return false;
  }

  private resourceOf({ resource, kind, members }: Wanted): Resource {
    if (kind === 'User') return resource;
    return {
      ...resource,
      members: members.flatMap((id) => {
        const value = this.remote.get(id);
        return value === undefined ? [] : [{ value }];
      }),
    };
  }

  private lacksSomeone = ({ members }: Wanted): boolean =>
    members.some((id) => !this.remote.has(id) && this.wanted.get(id)?.onlyIfThere === false);

  /** Makes the directory hold it; returns its id there, null when it is not there and need not be. */
  private async bring(item: Item): Promise<string | null> {
    const { client } = this;
    const kinds = collection(item.kind);
    const wanted = this.wanted.get(item.id);
    const isUnsure = item.state === 'drift' || item.sent === null;
    if (!wanted) return this.takeAway(item, kinds);
    const resource = this.resourceOf(wanted);
    if (item.remoteId !== null) {
      try {
        const held = isUnsure ? await client.read(kinds, item.remoteId) : (JSON.parse(item.sent!) as Resource);
        const operations = patchFor(item.kind, held, resource);
        if (operations.length > 0) await client.patch(kinds, item.remoteId, operations);
        return item.remoteId;
      } catch (error) {
        // Somebody deleted it there: it is made anew.
        if (!(error instanceof No && error.status === 404)) throw error;
      }
    }
    // A class has no name that only one can have, so nothing would stop a second one.
    const found =
      item.state === 'drift' || item.kind === 'Group' ? await this.find(kinds, 'externalId', item.id) : null;
    if (found) return this.adopt(item, kinds, found, resource);
    if (wanted.onlyIfThere) return null;
    try {
      return String((await client.create(kinds, resource)).id);
    } catch (error) {
      if (!(error instanceof No && error.status === 409)) throw error;
      const holder = await this.find(kinds, 'userName', String(resource.userName));
      if (holder && (holder.externalId === item.id || holder.externalId === undefined))
        return this.adopt(item, kinds, holder, resource);
      throw new No(409, say('directory.anotherAccountInTheDirectory', { username: String(resource.userName) }));
    }
  }

  private async find(kinds: Kinds, attribute: string, value: string): Promise<Resource | null> {
    return (await this.client.find(kinds, attribute, value))[0] ?? null;
  }

  private async adopt(item: Item, kinds: Kinds, found: Resource, resource: Resource): Promise<string> {
    const id = String(found.id);
    const operations = patchFor(item.kind, found, resource);
    if (found.externalId !== item.id) operations.push({ op: 'replace', path: 'externalId', value: item.id });
    if (operations.length > 0) await this.client.patch(kinds, id, operations);
    return id;
  }

  /** A class that ended is deleted there; a person is only suspended, since what they made there is not Sheaf's. */
  private async takeAway(item: Item, kinds: Kinds): Promise<string | null> {
    const found = item.remoteId ? { id: item.remoteId } : await this.find(kinds, 'externalId', item.id);
    if (!isObject(found ?? undefined)) return null;
    const id = String(found!.id);
    try {
      if (item.kind === 'Group') await this.client.remove(kinds, id);
      else await this.client.patch(kinds, id, [{ op: 'replace', path: 'active', value: false }]);
    } catch (error) {
      if (!(error instanceof No && error.status === 404)) throw error;
      return null;
    }
    return item.kind === 'Group' ? null : id;
  }

  private async flush(): Promise<void> {
    const rows = this.done;
    this.done = [];
    await this.db.transaction((tx) => noteSent(this.db, tx, rows));
  }

  private async failed(item: Item, state: 'due' | 'failed', message: string): Promise<void> {
    await this.db.models.directory.update(
      { state, tries: item.tries, lastError: message.slice(0, 1000) },
      { where: { id: item.id } },
    );
  }
}
