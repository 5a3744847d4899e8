/**
 * The faces that are printed, and how wide their letters are. A letter that is not in Atkinson Hyperlegible comes
 * from DejaVu Sans, or from the Noto face of its script, letter by letter, so that a name is never printed with a hole.
 *
 * Arabic and Hebrew are DejaVu's: its joined forms are letters of their own, so that a reader of the PDF finds the
 * name as it is written, while faces that build them from parts lose which letter it was.
 */
import { createRequire } from 'node:module';
import bidiFactory from 'bidi-js';
import PDFDocument from 'pdfkit';
import type { Face, Measure } from '#core/cards/index';

const locate = createRequire(import.meta.url);
const expo = '@expo-google-fonts';
const noto = (name: string, file: string) => ({
  [name]: `${expo}/${name}/400Regular/${file}_400Regular.ttf`,
  [`${name}-bold`]: `${expo}/${name}/700Bold/${file}_700Bold.ttf`,
});
const files: Record<string, string> = {
  text: `${expo}/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf`,
  strong: `${expo}/atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf`,
  code: `${expo}/atkinson-hyperlegible-mono/500Medium/AtkinsonHyperlegibleMono_500Medium.ttf`,
  other: 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf',
  'other-bold': 'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf',
  ...noto('noto-sans-sc', 'NotoSansSC'),
  ...noto('noto-sans-kr', 'NotoSansKR'),
  ...noto('noto-sans-devanagari', 'NotoSansDevanagari'),
  ...noto('noto-sans-bengali', 'NotoSansBengali'),
  ...noto('noto-sans-ethiopic', 'NotoSansEthiopic'),
};
/** What a script is printed in; the others in DejaVu Sans. A file is read when its first letter comes. */
const scripts: readonly (readonly [RegExp, string])[] = [
  [/[\p{sc=Hang}]/u, 'noto-sans-kr'],
  [/[\p{sc=Han}\p{sc=Hira}\p{sc=Kana}\u3000-\u303f\u30fb\u30fc\uff00-\uffef]/u, 'noto-sans-sc'],
  [/[\p{sc=Deva}\u0964\u0965]/u, 'noto-sans-devanagari'],
  [/\p{sc=Beng}/u, 'noto-sans-bengali'],
  [/\p{sc=Ethi}/u, 'noto-sans-ethiopic'],
];
/** Those whose letters join, change places or run from right to left. */
const woven = /[\p{sc=Arab}\p{sc=Hebr}\p{sc=Deva}\p{sc=Beng}]/u;

export function registerFonts(doc: PDFKit.PDFDocument): void {
  for (const [name, file] of Object.entries(files)) doc.registerFont(name, locate.resolve(file));
}

interface Glyphs {
  unitsPerEm: number;
  hasGlyphForCodePoint(codePoint: number): boolean;
  glyphForCodePoint(codePoint: number): { advanceWidth: number };
  layout(text: string): { advanceWidth: number };
}
/** What pdfkit has read of each font; widths are those of single letters, which kerning only makes narrower. */
const glyphs = (() => {
  let doc: PDFKit.PDFDocument | null = null;
  const read = new Map<string, Glyphs>();
  return (name: string): Glyphs => {
    const known = read.get(name);
    if (known) return known;
    if (!doc) registerFonts((doc = new PDFDocument({ autoFirstPage: false })));
    doc.font(name);
    const made = (doc as unknown as { _font: { font: Glyphs } })._font.font;
    read.set(name, made);
    return made;
  };
})();

interface Letter {
  font: string;
  width: number;
  /** No font here has it. */
  isMissing: boolean;
}
const widths = new Map<string, Letter>();
function letter(face: Face, char: string): Letter {
  const key = face + char;
  const known = widths.get(key);
  if (known) return known;
  const code = char.codePointAt(0)!;
  const own = scripts.find(([script]) => script.test(char))?.[1] ?? 'other';
  const found = [face, face === 'strong' ? `${own}-bold` : own].find((name) => glyphs(name).hasGlyphForCodePoint(code));
  const font = found ?? face;
  const { unitsPerEm } = glyphs(font);
  const isInvisible = /\p{Cf}|\p{Variation_Selector}/u.test(char);
  const made = {
    font,
    width: isInvisible && !found ? 0 : glyphs(font).glyphForCodePoint(code).advanceWidth / unitsPerEm,
    isMissing: !found && !isInvisible,
  };
  widths.set(key, made);
  return made;
}

/** Letters of a text that no font here has, each once. */
export function missingLetters(text: string): string[] {
  // As far as Latin goes, each has them.
  if (!/[^\u0020-\u024f]/.test(text)) return [];
  return [...new Set(text.normalize('NFC'))].filter((char) => letter('text', char).isMissing);
}

export const measure: Measure = (face, text) => {
  if (woven.test(text)) return runs(face, text).reduce((sum, { width }) => sum + width, 0);
  let width = 0;
  for (const char of text.normalize('NFC')) width += letter(face, char).width;
  return width;
};

export interface Run {
  font: string;
  text: string;
  /** At a size of one point. */
  width: number;
  /** Set as a whole: its letters join or change places. */
  isWoven?: true;
}
/**
 * The text in pieces of one font each, from left to right as they are seen: Unicode's bidirectional algorithm
 * (UAX 9). `isRtl`: the line runs from right to left, whatever it begins with; else its first letter says.
 */
export function runs(face: Face, text: string, isRtl = false): Run[] {
  const composed = text.normalize('NFC');
  return woven.test(composed) ? wovenRuns(face, composed, isRtl) : plainRuns(face, composed);
}

function plainRuns(face: Face, text: string): Run[] {
  const list: Run[] = [];
  for (const char of text) {
    const { font, width } = letter(face, char);
    const last = list.at(-1);
    if (last?.font === font) {
      last.text += char;
      last.width += width;
    } else list.push({ font, text: char, width });
  }
  return list;
}

const turnedLetter = /[\p{sc=Arab}\p{sc=Hebr}]/u;
const bidi = bidiFactory();
function wovenRuns(face: Face, text: string, isRtl: boolean): Run[] {
  const embedding = bidi.getEmbeddingLevels(text, isRtl ? 'rtl' : 'auto');
  const { levels } = embedding;
  const mirrored = bidi.getMirroredCharactersMap(text, levels);
  const list: { font: string; text: string; level: number }[] = [];
  for (let at = 0; at < text.length;) {
    const char = String.fromCodePoint(text.codePointAt(at)!);
    const level = levels[at]!;
    const last = list.at(-1);
    // What joins words of one script is of its font, so that they are set as one.
    const { font } = last && /[\s\p{M}\p{Cf}]/u.test(char) && last.level === level ? last : letter(face, char);
    const shown = mirrored.get(at) ?? char;
    if (last?.font === font && last.level === level) last.text += shown;
    else list.push({ font, text: shown, level });
    at += char.length;
  }
  // UAX 9, L2: from the highest level down, what is at it or above is turned around.
  const highest = Math.max(...list.map(({ level }) => level));
  for (let level = highest; level > 0; level--)
    for (let from = 0; from < list.length; from++) {
      if (list[from]!.level < level) continue;
      let end = from;
      while (end < list.length && list[end]!.level >= level) end++;
      list.splice(from, end - from, ...list.slice(from, end).reverse());
      from = end;
    }
  return list.map(({ font, text: whole, level }) => {
    const isTurned = level % 2 === 1;
    // Marks that only direct have done their work; what has no direction of its own is turned here, letters by their font.
    const letters = [...whole.replace(/[\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '')];
    const piece = (isTurned && !turnedLetter.test(whole) ? letters.reverse() : letters).join('');
    const { unitsPerEm } = glyphs(font);
    const width = glyphs(font).layout(piece).advanceWidth / unitsPerEm;
    return { font, text: piece, width, isWoven: true };
  });
}
