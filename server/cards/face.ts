/** What a card shows of a person besides the secret, in short: it is out of date once this is another. */
import { createHash } from 'node:crypto';

export interface Shown {
  familyName: string;
  givenName: string;
  username: string;
  /** The homeroom's. */
  className: string | null;
}
export const faceOf = ({ familyName, givenName, username, className }: Shown): string =>
  createHash('sha256')
    .update(JSON.stringify([familyName, givenName, username, className ?? '']))
    .digest('hex')
    .slice(0, 16);

/** A card holds while it is not void, its secret is the account's present one, and it shows what is so now. Cards printed before faces were kept have none. */
export const holds = (
  card: { isVoid: boolean; secretVersion: number; face: string | null },
  now: { secretVersion: number | null; face: () => string },
): boolean =>
  !card.isVoid && card.secretVersion === now.secretVersion && (card.face === null || card.face === now.face());
