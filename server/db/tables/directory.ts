/** What the directory was sent, by Sheaf’s own id of the person or class. */
import { count, exact, moment, name, orNull, table, text, word } from '#core/entities/declare';

export const directory = table('directory_items', {
  kind: word(5),
  label: name(250),
  remoteId: orNull(exact(200)),
  wantedHash: word(64),
  sent: orNull(text()),
  sentAt: orNull(moment()),
  state: word(6, { withheld: true }),
  tries: count({ hasDefault: true }),
  lastError: orNull(name(1000)),
});
