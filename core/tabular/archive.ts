/**
 * Zip archives from outside, unpacked in memory and within bounds. Names of entries are labels and never paths; an
 * archive with a name that leads outside is refused whole, as is one that grows beyond all measure.
 */
import { say } from '#core/messages/say';
import { unzipSync } from 'fflate';
import { Refusal } from './decode';

export const archiveLimits = { entries: 2000, entryBytes: 400_000_000, totalBytes: 600_000_000, ratio: 250 };

export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 0x03 || bytes[2] === 0x05);

interface Entry {
  name: string;
  bytes: Uint8Array;
}

/** The entries that `wanted` chooses, folders and hidden files left out. Throws Refusal with what is wrong. */
export function unpack(bytes: Uint8Array, wanted: (name: string, bytes: number) => boolean = () => true): Entry[] {
  let entries = 0;
  let total = 0;
  const check = (name: string, size: number, packed: number): void => {
    if (/^([/\\]|[a-z]:)|(^|[/\\])\.\.([/\\]|$)/i.test(name))
      throw new Refusal('path', say('intake.theArchiveHasAPath', { name: name.slice(0, 80) }));
    if (++entries > archiveLimits.entries)
      throw new Refusal('too-many', say('intake.theArchiveHasMoreThan', { most: archiveLimits.entries }));
    total += size;
    const bomb = size > 20_000_000 && size > packed * archiveLimits.ratio;
    if (size > archiveLimits.entryBytes || total > archiveLimits.totalBytes || bomb)
      throw new Refusal(
        'too-large',
        say('intake.unpackedWouldTakeMbMore', { name: name.slice(0, 80), size: Math.round(size / 1e6) }),
      );
  };
  try {
    const unpacked = unzipSync(bytes, {
      filter: ({ name, originalSize, size }) => {
        check(name, originalSize, size);
        return !name.endsWith('/') && !/(^|\/)(\.|__MACOSX\/)/.test(name) && wanted(name, originalSize);
      },
    });
    return Object.entries(unpacked).map(([name, content]) => ({ name, bytes: content }));
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal('broken-archive', say('intake.theArchiveIsDamagedOr'));
  }
}
