/**
 * A mail server, simulated: takes what comes over SMTP, delivers nothing, and shows it on a page.
 *   node --import tsx standins/mailbox/main.ts --port 8312 [--smtp 8313] [--refuse nobody@example.org]
 */
import { parseArgs } from 'node:util';
import { serve } from '@hono/node-server';
import { Hono } from 'hono';
import { html } from 'hono/html';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '8312' }, smtp: { type: 'string' }, refuse: { type: 'string' } },
});
const smtpPort = Number(values.smtp ?? Number(values.port) + 1);

interface Mail {
  to: string;
  from: string;
  subject: string;
  text: string;
  at: string;
}
const mails: Mail[] = [];

new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  onRcptTo: ({ address }, _session, done) =>
    done(address === values.refuse ? Object.assign(new Error('No such mailbox here.'), { responseCode: 550 }) : null),
  onData: (stream, session, done) => {
    simpleParser(stream)
      .then((mail) => {
        mails.unshift({
          to: session.envelope.rcptTo.map(({ address }) => address).join(', '),
          from: mail.from?.text ?? '',
          subject: mail.subject ?? '',
          text: mail.text ?? '',
          at: new Date().toISOString(),
        });
        done();
      })
      .catch((error: Error) => done(error));
  },
}).listen(smtpPort, '127.0.0.1');

const app = new Hono();
app.get('/healthz', (c) => c.json({ status: 'ok' }));
app.get('/mails', (c) => c.json(mails));
const linked = (text: string) =>
  text.split(/(https?:\/\/\S+)/).map((part) => (part.startsWith('http') ? html`<a href="${part}">${part}</a>` : part));
app.get('/', (c) =>
  c.html(
    html`<!doctype html>
      <html lang="en">
        <head>
          <meta charset="utf-8" />
          <title>Mailbox</title>
          <style>
            body {
              font: 16px/1.5 sans-serif;
              max-width: 46rem;
              margin: 2rem auto;
            }
            pre {
              white-space: pre-wrap;
            }
            article {
              border-top: 1px solid #999;
            }
          </style>
        </head>
        <body>
          <h1>Mailbox</h1>
          <p>${mails.length} letters. Nothing is delivered.</p>
          ${mails.map(
            (m) =>
              html`<article>
                <p><b>${m.subject}</b> to ${m.to}, ${m.at}</p>
                <pre>${linked(m.text)}</pre>
              </article>`,
          )}
        </body>
      </html>`,
  ),
);
serve({ fetch: app.fetch, port: Number(values.port), hostname: '127.0.0.1' }, ({ port }) =>
  console.log(`mailbox stand-in at http://127.0.0.1:${port}, SMTP on ${smtpPort}`),
);
// Started by another process it ends with it.
process.on('disconnect', () => process.exit());
