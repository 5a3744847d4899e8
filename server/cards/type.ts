/**
 * The faces that are printed, and how wide their letters are. A letter that Atkinson Hyperlegible lacks is taken
 * from DejaVu Sans, letter by letter, so that a name is never printed with a hole.
 */
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import type { Face, Measure } from '#core/cards/index';

const locate = createRequire(import.meta.url);
const files = {
  text: '@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf',
  strong: '@expo-google-fonts/atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf',
  code: '@expo-google-fonts/atkinson-hyperlegible-mono/500Medium/AtkinsonHyperlegibleMono_500Medium.ttf',
  other: 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf',
  otherStrong: 'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf',
} as const;
export type FontName = keyof typeof files;
const fallback: Record<Face, FontName> = { text: 'other', strong: 'otherStrong', code: 'other' };

export function registerFonts(doc: PDFKit.PDFDocument): void {
  for (const [name, file] of Object.entries(files)) doc.registerFont(name, locate.resolve(file));
}

interface Glyphs {
  unitsPerEm: number;
  hasGlyphForCodePoint(codePoint: number): boolean;
  glyphForCodePoint(codePoint: number): { advanceWidth: number };
}
/** What pdfkit has read of each font; widths are those of single letters, which kerning only makes narrower. */
const glyphs = (() => {
  let read: Map<FontName, Glyphs> | null = null;
  return (name: FontName): Glyphs => {
    if (!read) {
      const doc = new PDFDocument({ autoFirstPage: false });
      registerFonts(doc);
      read = new Map(
        (Object.keys(files) as FontName[]).map((font) => {
          doc.font(font);
          return [font, (doc as unknown as { _font: { font: Glyphs } })._font.font];
        }),
      );
    }
    return read.get(name)!;
  };
})();

const widths = new Map<string, { font: FontName; width: number }>();
function letter(face: Face, char: string): { font: FontName; width: number } {
  const key = face + char;
  const known = widths.get(key);
  if (known) return known;
  const code = char.codePointAt(0)!;
  const font = glyphs(face).hasGlyphForCodePoint(code) ? face : fallback[face];
  const { unitsPerEm } = glyphs(font);
  const made = { font, width: glyphs(font).glyphForCodePoint(code).advanceWidth / unitsPerEm };
  widths.set(key, made);
  return made;
}

export const measure: Measure = (face, text) => {
  let width = 0;
  for (const char of text.normalize('NFC')) width += letter(face, char).width;
  return width;
};

export interface Run {
  font: FontName;
  text: string;
  /** At a size of one point. */
  width: number;
}
/** The text in pieces of one font each. */
export function runs(face: Face, text: string): Run[] {
  const list: Run[] = [];
  for (const char of text.normalize('NFC')) {
    const { font, width } = letter(face, char);
    const last = list.at(-1);
    if (last?.font === font) {
      last.text += char;
      last.width += width;
    } else list.push({ font, text: char, width });
  }
  return list;
}
