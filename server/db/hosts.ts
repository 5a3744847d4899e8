/**
 * Which server of a cluster is asked. All of them are alike, so the first that answers is used until it fails; the next
 * connection then goes to the one after it, and what is still open to one that failed is not used again.
 */
import { createConnection, type Socket } from 'node:net';
import { checkServerIdentity, type PeerCertificate } from 'node:tls';
import type { Config, Host } from '../config';

/** So long a host may take to open its door, and so long one that failed is passed over; ms. */
const mostOpeningMs = 2000;
const passedOverMs = 10_000;

/** What a connection of the driver is asked here. */
export interface Connection {
  isValid(): boolean;
  query(sql: string): Promise<unknown>;
  destroy(): void;
}

/** Whether somebody answers there at all. */
const opens = ({ host, port }: Host): Promise<boolean> =>
  new Promise((done) => {
    const socket: Socket = createConnection({ host, port, timeout: mostOpeningMs });
    const end = (is: boolean) => {
      socket.destroy();
      done(is);
    };
    socket.once('connect', () => end(true));
    socket.once('error', () => end(false));
    socket.once('timeout', () => end(false));
  });

/**
 * The driver's options for TLS; undefined: none is wanted. The driver does not tell which host it talks to, so the
 * certificate must be that of one of those that are named.
 */
export const tlsOf = ({ tls, host, others = [] }: Config['database']) =>
  tls && {
    ...tls,
    checkServerIdentity: (_: string, certificate: PeerCertificate): Error | undefined => {
      const errors = [host, ...others.map((other) => other.host)].map((name) => checkServerIdentity(name, certificate));
      return errors.includes(undefined) ? undefined : errors[0];
    },
  };

export class Hosts {
  private at = 0;
  /** When each last failed, by its place in the list. */
  private readonly failed = new Map<number, number>();
  private readonly of = new WeakMap<object, { place: number; since: number }>();

  constructor(private readonly hosts: readonly [Host, ...Host[]]) {}

  get areSeveral(): boolean {
    return this.hosts.length > 1;
  }

  /** The one to connect to now. Where none answers, the one that is in use: its error says why. */
  async choose(): Promise<Host> {
    const { at, hosts } = this;
    const inTurn = hosts.map((_, i) => (at + i) % hosts.length);
    const isPassedOver = (place: number) => performance.now() - (this.failed.get(place) ?? -Infinity) < passedOverMs;
    for (const place of [...inTurn.filter((one) => !isPassedOver(one)), ...inTurn.filter(isPassedOver)])
      if (await opens(hosts[place]!)) {
        this.at = place;
        break;
      }
    return hosts[this.at]!;
  }

  /**
   * A new connection to the host that was chosen. Throws where that one is up and takes no work, as one of a cluster
   * does that has lost the others or is still being brought up to date.
   */
  async joined(connection: Connection, { host, port }: Host): Promise<void> {
    const place = this.hosts.findIndex((one) => one.host === host && one.port === port);
    this.of.set(connection, { place, since: performance.now() });
    try {
      await connection.query('SELECT 1 FROM migrations LIMIT 1');
    } catch (error) {
      // No tables yet: it does answer.
      if ((error as { errno?: number }).errno === 1146) return;
      this.failed.set(place, performance.now());
      connection.destroy();
      throw error;
    }
  }

  /** The host in use takes no work any more: the next connection goes elsewhere. */
  fails(): void {
    this.failed.set(this.at, performance.now());
  }

  /** Whether the connection may be used again. */
  holds(connection: Connection): boolean {
    const known = this.of.get(connection);
    return connection.isValid() && (!known || known.since > (this.failed.get(known.place) ?? 0));
  }
}
