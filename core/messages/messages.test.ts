/** Every text can be read, says the same in each language, and what it is told stays in it. */
import { IntlMessageFormat } from 'intl-messageformat';
import { describe, expect, it } from 'vitest';
import { en, type Messages } from './index';
import { es } from './es/index';
import { pseudo } from './pseudo';

const flat = (messages: Messages): [string, string][] =>
  Object.entries(messages).flatMap(([room, texts]) =>
    Object.entries(texts).map(([key, text]): [string, string] => [`${room}.${key}`, text]),
  );
type Ast = ReturnType<IntlMessageFormat['getAst']>;
const read = (text: string, locale: string): Ast =>
  new IntlMessageFormat(text, locale, undefined, { ignoreTag: true }).getAst();
/** Names of what a message is told, with those that decide about a plural. */
const told = (ast: Ast): string[] =>
  [
    ...new Set(
      ast.flatMap((element) => [
        ...('value' in element && element.type !== 0 ? [`${element.type === 6 ? 'n:' : ''}${element.value}`] : []),
        ...('options' in element ? Object.values(element.options).flatMap(({ value }) => told(value)) : []),
      ]),
    ),
  ].sort();

describe.each([
  ['en-US', en as Messages],
  ['es-US', es],
])('%s', (locale, messages) => {
  it('has only texts that can be read', () => {
    for (const [key, text] of flat(messages)) expect(() => read(text, locale), key).not.toThrow();
  });
  it('has no empty text and none with a blank at its ends', () => {
    expect(flat(messages).filter(([, text]) => text === '' || text !== text.trim())).toEqual([]);
  });
});

it('says in Spanish what it says in English, of the same things', () => {
  const english = new Map(flat(en));
  for (const [key, text] of flat(es)) {
    const plain = (names: string[]) => [...new Set(names.map((name) => name.replace('n:', '')))];
    expect([key, plain(told(read(text, 'es-US')))]).toEqual([key, plain(told(read(english.get(key)!, 'en-US')))]);
  }
});

it('speaks none of the words that were left behind', () => {
  const odd =
    /\b(nobody|whoever|whom|anew|secrets?|lacks?|take[sn]? in|settled?|no longer holds|stands twice|hurr(y|ies))\b/i;
  const said = flat(en).filter(([, text]) => !/client|token/i.test(text));
  expect(said.filter(([, text]) => odd.test(text.replace(/\{\w+/g, '')))).toEqual([]);
});

it('counts in each language as it is counted there', () => {
  const say = (text: string, locale: string, n: number) => new IntlMessageFormat(text, locale).format({ n });
  expect([1, 2, 1200].map((n) => say(en.classes.countStudents, 'en-US', n))).toEqual([
    '1 student',
    '2 students',
    '1,200 students',
  ]);
  expect([1, 2].map((n) => say(es.classes.countStudents, 'es-US', n))).toEqual(['1 estudiante', '2 estudiantes']);
});

it('in the language for tests has what it was told in it, marks on the rest, and is two fifths longer', () => {
  for (const [key, text] of flat(en)) {
    const marked = pseudo(text);
    expect([key, told(marked)]).toEqual([key, told(read(text, 'en-US'))]);
  }
  const said = new IntlMessageFormat(pseudo('Print {n, plural, one {# card} other {# cards}}'), 'en-US').format({
    n: 3,
  });
  expect(said).toMatch(/^⟦Þŕíñţ 3 çáŕðš·+⟧$/);
});
