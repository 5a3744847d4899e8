/** A way to the database that loses the answer to a COMMIT, or the COMMIT itself, as a network does; or is cut. */
import { connect, createServer, type Server, type Socket } from 'node:net';
import { freePorts } from './ports';

const commit = Buffer.from('COMMIT');

export class DroppingWay {
  /** What becomes of the next COMMIT; null: all goes through. */
  next: 'answer' | 'question' | null = null;
  dropped = 0;
  /** Somebody came this way. */
  used = false;
  private isCut = false;
  private readonly open = new Set<Socket>();

  private constructor(
    readonly port: number,
    private readonly server: Server,
  ) {}

  static async to(host: string, port: number): Promise<DroppingWay> {
    const own = await freePorts();
    const way: DroppingWay = new DroppingWay(
      own,
      createServer((client) => way.join(client, connect(port, host))),
    );
    await new Promise<void>((open) => way.server.listen(own, '127.0.0.1', open));
    return way;
  }

  /** Nobody comes through any more, whoever is on the way neither. */
  cut(): void {
    this.isCut = true;
    for (const socket of this.open) socket.destroy();
  }
  mend(): void {
    this.isCut = false;
  }

  private join(client: Socket, database: Socket): void {
    this.used = true;
    if (this.isCut) {
      client.destroy();
      database.destroy();
      return;
    }
    this.open.add(client).add(database);
    let loses = false;
    const end = () => {
      client.destroy();
      database.destroy();
    };
    client.on('data', (piece: Buffer) => {
      if (this.next && piece.includes(commit)) {
        const what = this.next;
        this.next = null;
        this.dropped++;
        if (what === 'question') return end();
        loses = true;
      }
      database.write(piece);
    });
    database.on('data', (piece: Buffer) => (loses ? end() : client.write(piece)));
    for (const socket of [client, database]) {
      socket.setNoDelay(true);
      socket.on('error', end);
      socket.on('close', () => {
        this.open.delete(socket);
        end();
      });
    }
  }

  close = (): Promise<void> => new Promise((closed) => this.server.close(() => closed()));
}
