/** Mail over SMTP, to whatever server the configuration names. */
import nodemailer from 'nodemailer';
import type { Config } from './config';

export interface Letter {
  to: string;
  subject: string;
  text: string;
}

/** Sends letters over one connection after the other. Throws what the server says when it takes none. */
export class Post {
  private readonly transport;
  constructor(private readonly at: NonNullable<Config['mail']>) {
    // Letters hold links: they go encrypted, or to this machine.
    const isHere = /^(127\.|localhost$|\[?::1)/.test(new URL(at.url).hostname);
    this.transport = nodemailer.createTransport({
      url: at.url,
      pool: true,
      connectionTimeout: 10_000,
      requireTLS: !isHere,
    });
  }
  send = async (letter: Letter): Promise<void> => {
    await this.transport.sendMail({ from: this.at.from, ...letter });
  };
  close = (): void => this.transport.close();
}
