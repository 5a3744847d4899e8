/**
 * Utility classes: what an element's layout is stands at the element, and a style block has only what depends on a
 * state or on another element. Units are written out (`gap-8px`); colors are those of web/theme/tokens.css by their names.
 */
import { presetMini } from '@unocss/preset-mini';
import { defineConfig } from '@unocss/vite';

const colors = [
  ...['ink', 'quiet', 'rule', 'fog', 'sheet', 'paper', 'straw', 'straw-wash', 'rust', 'rust-wash', 'stem', 'stem-wash'],
  ...['dusk', 'dusk-wash', 'on-stem'],
];
const sides = { '': '', '-t': '-top', '-r': '-right', '-b': '-bottom', '-l': '-left' };
const ruled = '1px solid var(--rule)';
const faint = '1px solid color-mix(in srgb, var(--rule) 45%, transparent)';

export default defineConfig({
  presets: [presetMini({ preflight: false, arbitraryVariants: false })],
  theme: {
    colors: Object.fromEntries(colors.map((name) => [name, `var(--${name})`])),
    fontFamily: { mono: 'var(--mono)' },
  },
  rules: Object.entries(sides).flatMap(([short, side]) => [
    [`ruled${short}`, { [`border${side}`]: ruled }] as [string, Record<string, string>],
    [`faint${short}`, { [`border${side}`]: faint }] as [string, Record<string, string>],
  ]),
  // As specific as a component's own style: stronger than an element of theme/base.css, weaker than a state.
  postprocess: (utility) => {
    utility.selector = utility.selector.replace(/^\.(?:\\.|[^\s:>+~\\])+/, (one) => one + one);
  },
  content: { pipeline: { include: [/\.vue($|\?)/] } },
});
