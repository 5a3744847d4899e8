/** Places where somebody scans. */
import { count, id, moment, table, text } from '#core/entities/declare';

export const scanStations = table('scan_stations', {
  ownerId: id('person'),
  state: text({ withheld: true }),
  seq: count(),
  said: text({ withheld: true }),
  at: moment(),
});
