/** How it was printed last is how it is printed next: kept in the browser. */
import { createGlobalState, useLocalStorage } from '@vueuse/core';
import type { Edge, Language, Layout, Paper } from '#core/cards/index';

export interface PrintForm {
  layout: Layout;
  paper: Paper;
  /** '': none. */
  backs: '' | Edge;
  stacked: boolean;
  skip: number;
  /** '': the family's where it is known, else English alone. */
  language: '' | Language;
  large: boolean;
}
export const usePrintForm = createGlobalState(() =>
  useLocalStorage<PrintForm>(
    'print',
    {
      layout: 'cards',
      paper: navigator.language === 'en-US' ? 'Letter' : 'A4',
      backs: '',
      stacked: true,
      skip: 0,
      language: '',
      large: true,
    },
    { mergeDefaults: true },
  ),
);
