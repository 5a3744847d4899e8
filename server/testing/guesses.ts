/** Guessing join codes at a running server, as fast as it answers, with the check character right and of the length that codes have. */
import { Agent, request } from 'node:http';
import { alphabet, checkOf } from '#core/codes/index';
import type { Joined } from '../contract';

export class Guesser {
  private readonly agent = new Agent({ keepAlive: true, maxSockets: 20 });
  /** How often each status was answered. */
  readonly statuses = new Map<number, number>();
  sent = 0;

  constructor(
    private readonly base: string,
    private readonly letters: number,
  ) {}

  post(body: object): Promise<{ status: number; body: Joined }> {
    return new Promise((done, failed) => {
      const asking = request(
        `${this.base}/api/join`,
        { method: 'POST', agent: this.agent, headers: { Origin: this.base, 'Content-Type': 'application/json' } },
        (answer) => {
          let text = '';
          answer.on('data', (piece: Buffer) => (text += piece.toString()));
          answer.on('end', () => done({ status: answer.statusCode!, body: JSON.parse(text) as Joined }));
        },
      );
      asking.on('error', failed);
      asking.end(JSON.stringify(body));
    });
  }

  /** A code that nobody was given. */
  get wrong(): string {
    const drawn = Array.from(
      { length: this.letters - 1 },
      () => alphabet[Math.floor(Math.random() * alphabet.length)]!,
    ).join('');
    return drawn + checkOf(drawn);
  }

  /** Sixteen at a time until so many are sent. */
  async guess(total: number): Promise<void> {
    const one = async () => {
      while (this.sent < total) {
        this.sent++;
        const who = { familyName: 'Guess', givenName: 'Work', number: String(this.sent) };
        const { status } = await this.post({ code: this.wrong, ...who });
        this.statuses.set(status, (this.statuses.get(status) ?? 0) + 1);
      }
    };
    await Promise.all(Array.from({ length: 16 }, one));
  }
}
