/** A card and an order for tests and measuring, with what is not asked about as it usually is. */
import type { CardContent } from './draw';
import type { SheetOrder } from './sheets';

export const sampleCard = (i: number, more: Partial<CardContent> = {}): CardContent => ({
  familyName: `Xname${i}`,
  givenName: 'Wren',
  className: '3B',
  grade: '3',
  school: 'Lantern Point',
  username: `user${i}`,
  secret: 'puffin-harbor-42',
  link: `http://127.0.0.1:8200/c#0123456789ABCDEFGHJKMNP${String(i).padStart(3, '0')}`,
  foot: ['Scan the code to sign in.'],
  family: `${i}`,
  large: false,
  language: null,
  where: '127.0.0.1:8200/d/lantern',
  ...more,
});
export const sampleOrder = (more: Partial<SheetOrder> = {}): SheetOrder => ({
  layout: 'cards',
  paper: 'A4',
  backs: null,
  stacked: false,
  skip: 0,
  ...more,
});
