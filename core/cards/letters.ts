/** Letters home: one page a family, in its language and in English, with what each child needs and what a family signs. */
import { type CardContent, cardPlace, drawSecret } from './draw';
import { bottomOf, fit, fitCode, type Item, type Measure, paragraph } from './items';
import { type Paper, papers } from './layout';
import { english, howTo, isRtl, type Language, texts, type Texts } from './texts';

/** What a family signs, as the district wrote it, by language. */
export type Consent = Partial<Record<Language | 'en', string>>;

const edgeMm = 20;
/** Children on one page; a family of more has two. */
const mostChildren = 3;
const childMm = 37;

/** Indices of children by family, in the order in which their first one comes. */
export function families(count: number, familyOf: (index: number) => string): number[][] {
  const met = new Map<string, number[]>();
  for (let index = 0; index < count; index++) {
    const family = familyOf(index);
    const known = met.get(family);
    if (known) known.push(index);
    else met.set(family, [index]);
  }
  return [...met.values()].flatMap((children) =>
    Array.from({ length: Math.ceil(children.length / mostChildren) }, (_, page) =>
      children.slice(page * mostChildren, (page + 1) * mostChildren),
    ),
  );
}

/** A letter for children of one family; the language is the first one's. */
export function drawLetter(children: readonly CardContent[], consent: Consent, paper: Paper, measure: Measure): Item[] {
  const { widthMm, heightMm } = papers[paper];
  const wide = widthMm - 2 * edgeMm;
  const [first] = children as [CardContent];
  const { language } = first;
  const voices: { says: Texts; language: Language | 'en' }[] = [
    ...(language ? [{ says: texts[language], language }] : []),
    { says: english, language: 'en' },
  ];
  const items: Item[] = [];
  let y = edgeMm;
  const write = (
    text: string,
    spoken: Language | 'en',
    { size, strong = false, most = 30 }: { size: number; strong?: boolean; most?: number },
  ) => {
    const box = { xMm: edgeMm, topMm: y, widthMm: wide, heightMm: most, sizes: [size, 6.5] as const };
    const lines = paragraph(measure, text, { ...box, isRtl: isRtl(spoken) }, 'ink', strong ? 'strong' : 'text');
    items.push(...lines);
    y = bottomOf(lines) + 1.5;
  };
  const line = (atMm: number, fromMm = edgeMm, toMm = widthMm - edgeMm): Item => ({
    ...{ kind: 'line', x1Mm: fromMm, y1Mm: atMm, x2Mm: toMm, y2Mm: atMm, widthPt: 0.6, tint: 'line' },
  });
  items.push(
    fit(measure, 'text', first.school ?? '', { xMm: edgeMm, baseMm: 14, widthMm: wide, sizes: [9.5, 7] }, 'quiet'),
  );
  for (const { says, language: spoken } of voices) {
    write(says.letter.title, spoken, { size: spoken === 'en' && language ? 12 : 16, strong: true, most: 10 });
    write(says.letter.intro, spoken, { size: 10.5, most: 16 });
    y += 2;
  }
  for (const child of children) {
    items.push(line(y));
    items.push({
      ...{ kind: 'at', xMm: edgeMm, yMm: y, widthMm: wide, heightMm: childMm, turned: false },
      items: drawChild(child, wide, measure),
    });
    y += childMm;
  }
  items.push(line(y));
  y += 3;
  for (const { says, language: spoken } of voices)
    write(howTo(says, spoken, first.where), spoken, { size: 9.5, most: 14 });

  // What is signed and given back stands at the foot, so that it can be cut off.
  const names = children.map((child) => `${child.givenName} ${child.familyName}`).join(', ');
  const consentMm = language ? 78 : 56;
  y = Math.max(y + 3, heightMm - consentMm);
  items.push({ ...line(y), ...{ tint: 'quiet' } } as Item);
  y += 4;
  for (const { says, language: spoken } of voices) {
    write(`${says.letter.consent} · ${names}`, spoken, { size: 10.5, strong: true, most: 6 });
    write(consent[spoken] ?? says.letter.agrees, spoken, { size: 9.5, most: 22 });
  }
  const sign = heightMm - 16;
  items.push(
    line(sign),
    fit(
      measure,
      'text',
      [...new Set(voices.map(({ says }) => says.letter.signs))].join(' · '),
      { xMm: edgeMm, baseMm: sign + 4.5, widthMm: wide, sizes: [8, 6] },
      'quiet',
    ),
  );
  return items;
}

/** Whose it is, and on what they sign in. */
function drawChild(child: CardContent, widthMm: number, measure: Measure): Item[] {
  const own = child.language && texts[child.language];
  const column = (widthMm - 36) / 2;
  const label = (xMm: number, ours: string, theirs: string | undefined): Item =>
    fit(
      measure,
      'text',
      [...new Set([theirs, ours].filter(Boolean))].join(' · '),
      { xMm, baseMm: 20, widthMm: column - 3, sizes: [8, 5.5] },
      'quiet',
    );
  const spot = (xMm: number) => ({ xMm, baseMm: 27, widthMm: column - 3, sizes: [14, 6.5] as const });
  const name = { xMm: 0, baseMm: 8, widthMm: widthMm - 36, sizes: [14, 8] as const };
  return [
    fit(measure, 'strong', `${child.familyName}, ${child.givenName}`, name),
    fit(measure, 'text', cardPlace(child), { ...name, baseMm: 13.5, sizes: [9, 6] }, 'quiet'),
    label(0, english.username, own?.username),
    ...fitCode(measure, child.username, spot(0)),
    label(column, english.secret, own?.secret),
    ...drawSecret(child.secret, spot(column), measure),
    { kind: 'qr', text: child.link, xMm: widthMm - 31, yMm: 3, sizeMm: 31 },
  ];
}
