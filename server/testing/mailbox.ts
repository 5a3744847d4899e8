/** A mail server as a process of its own, and the letters that it took in. */
import type { Config } from '../config';
import { freePorts } from './ports';
import { StandIn } from './process';

export interface Letter {
  to: string;
  subject: string;
  text: string;
}
export class Mailbox {
  private constructor(
    private readonly standIn: StandIn,
    /** What a server's configuration says to send its mail here. */
    readonly mail: NonNullable<Config['mail']>,
  ) {}

  /** Refuses letters to the address, if one is named. */
  static async start(refused?: string): Promise<Mailbox> {
    const smtp = await freePorts();
    const standIn = await StandIn.start('mailbox', ['--smtp', String(smtp), ...(refused ? ['--refuse', refused] : [])]);
    return new Mailbox(standIn, { url: `smtp://127.0.0.1:${smtp}`, from: 'Sheaf <sheaf@isles.example>' });
  }
  /** The newest first. */
  letters = async (): Promise<Letter[]> => (await (await fetch(`${this.standIn.base}/mails`)).json()) as Letter[];
  stop = (): void => this.standIn.stop();
}
