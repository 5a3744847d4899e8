/**
 * Bytes to text. The encoding is told from a byte-order mark, from zero bytes (UTF-16), from being valid UTF-8,
 * and else taken to be Windows-1252, in which every byte is something. What is no text at all is refused.
 */
import { say, unsaid } from '#core/messages/say';
import { windows1252High } from '#core/names/index';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** The file cannot be read as a table; the message says why and what to do. */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

const kinds: [signature: number[], what: string, advice: string][] = [
  [[0x89, 0x50, 0x4e, 0x47], say('intake.aPicturePng'), say('intake.exportTheListAsCsv')],
  [[0xff, 0xd8, 0xff], say('intake.aPictureJpeg'), say('intake.exportTheListAsCsv')],
  [[0x47, 0x49, 0x46, 0x38], say('intake.aPictureGif'), say('intake.exportTheListAsCsv')],
  [[0x25, 0x50, 0x44, 0x46], 'a PDF', say('intake.exportTheListAsCsv')],
  [[0xd0, 0xcf, 0x11, 0xe0], say('intake.anOldWorkbook'), say('intake.saveTheSheetAsCsv')],
];

export interface Decoded {
  text: string;
  encoding: Encoding;
  /** Between 0 and 1. */
  confidence: number;
}

export function decode(bytes: Uint8Array, asked?: Encoding): Decoded {
  if (bytes.length === 0) throw new Refusal('empty', say('intake.theFileIsEmptyExport'));
  for (const [signature, what, advice] of kinds) {
    if (signature.every((byte, i) => bytes[i] === byte)) {
      throw new Refusal('not-a-table', say('intake.thisFileIsWhateverIts', { what, advice }));
    }
  }
  const { encoding, confidence } = asked ? { encoding: asked, confidence: 1 } : guessEncoding(bytes);
  const decoded = unsaid(new TextDecoder(encoding).decode(bytes));
  // Some runtimes take Windows-1252 for ISO 8859-1 and leave control characters where letters belong.
  const text =
    encoding === 'windows-1252'
      ? decoded.replace(/[\u0080-\u009f]/g, (c) => windows1252High[c.charCodeAt(0) - 0x80]!)
      : decoded;
  const sample = text.slice(0, 20_000);
  if (sample.includes('\u0000')) {
    throw new Refusal('not-text', say('intake.theFileIsNotText'));
  }
  if (text.trim() === '') {
    throw new Refusal('empty', say('intake.theFileHasOnlySpaces'));
  }
  return { text, encoding, confidence };
}

function guessEncoding(bytes: Uint8Array): { encoding: Encoding; confidence: number } {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return { encoding: 'utf-8', confidence: 1 };
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { encoding: 'utf-16le', confidence: 1 };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { encoding: 'utf-16be', confidence: 1 };
  const zeros = [0, 0];
  const sample = Math.min(bytes.length, 4096) & ~1;
  for (let i = 0; i < sample; i++) if (bytes[i] === 0) zeros[i & 1]!++;
  if (zeros[1]! > sample / 4 && zeros[0]! < sample / 50) return { encoding: 'utf-16le', confidence: 0.95 };
  if (zeros[0]! > sample / 4 && zeros[1]! < sample / 50) return { encoding: 'utf-16be', confidence: 0.95 };
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return { encoding: 'utf-8', confidence: 0.99 };
  } catch {
    return { encoding: 'windows-1252', confidence: 0.8 };
  }
}
