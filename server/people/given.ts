/**
 * Usernames that were ever given, so that none is given again: as they are, and of people who were purged by what a key
 * outside the database makes of them, so that the name itself is nowhere.
 */
import { macOf, macsOf } from '../auth/seal';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { everGiven } from './queries';

/** No username begins so. */
const purgedMark = '#';
const mark = (mac: string): string => purgedMark + mac.slice(0, 60);
export const markOf = (key: Config['key'], username: string): string => mark(macOf(key, username));

export class Given extends Map<string, string> {
  private readonly marked: boolean;
  constructor(
    private readonly key: Config['key'],
    rows: readonly (readonly [string, string])[],
    /** Those that an account has now. */
    readonly held: readonly string[],
  ) {
    super(rows);
    this.marked = rows.some(([username]) => username.startsWith(purgedMark));
  }
  override has(username: string): boolean {
    // Marks cost something to make, and a district has none before its first purge.
    return super.has(username) || (this.marked && macsOf(this.key, username).some((mac) => super.has(mark(mac))));
  }
}

export async function givenUsernames(db: Db, { key }: Pick<Config, 'key'>): Promise<Given> {
  const rows = await everGiven(db);
  return new Given(
    key,
    rows.map(({ username, personKey }) => [username, personKey] as const),
    rows.flatMap(({ username, held }) => (held ? username : [])),
  );
}
