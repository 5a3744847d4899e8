/** A language for tests: each text is two fifths longer and its letters have marks, so that a test finds texts outside the catalog. */
import { IntlMessageFormat } from 'intl-messageformat';

type Ast = ReturnType<IntlMessageFormat['getAst']>;
type Element = Ast[number];

const marked: Record<string, string> = {
  ...{ a: 'á', b: 'ƀ', c: 'ç', d: 'ð', e: 'é', f: 'ƒ', g: 'ğ', h: 'ħ', i: 'í', j: 'ĵ', k: 'ķ', l: 'ļ', m: 'ɱ' },
  ...{ n: 'ñ', o: 'ó', p: 'þ', r: 'ŕ', s: 'š', t: 'ţ', u: 'ú', v: 'ṽ', w: 'ŵ', x: 'ẋ', y: 'ý', z: 'ž' },
  ...{ A: 'Á', B: 'Ɓ', C: 'Ç', D: 'Ð', E: 'É', F: 'Ƒ', G: 'Ğ', H: 'Ħ', I: 'Í', J: 'Ĵ', K: 'Ķ', L: 'Ļ', M: 'Ṁ' },
  ...{ N: 'Ñ', O: 'Ó', P: 'Þ', R: 'Ŕ', S: 'Š', T: 'Ţ', U: 'Ú', V: 'Ṽ', W: 'Ŵ', X: 'Ẋ', Y: 'Ý', Z: 'Ž' },
};
/** Added length, as a share of the text. */
const longer = 0.4;

const markedText = (text: string): string => [...text].map((letter) => marked[letter] ?? letter).join('');

function changed(element: Element): Element {
  if ('value' in element && element.type === 0) return { ...element, value: markedText(element.value) };
  if ('options' in element)
    return {
      ...element,
      options: Object.fromEntries(
        Object.entries(element.options).map(([key, option]) => [key, { ...option, value: option.value.map(changed) }]),
      ),
    } as Element;
  return element;
}

/** The message with its placeholders and plurals as they are, in brackets that show where a text was cut or glued. */
export function pseudo(message: string): Ast {
  const ast = new IntlMessageFormat(message, 'en-US', undefined, { ignoreTag: true }).getAst();
  const letters = message.replace(/\{[^}]*\}/g, '').length;
  const literal = (value: string): Element => ({ type: 0, value }) as Element;
  return [literal('⟦'), ...ast.map(changed), literal(`${'·'.repeat(Math.ceil(letters * longer))}⟧`)];
}
