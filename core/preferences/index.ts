/** How somebody wants to see Sheaf: kept with the person, so that it is the same on every machine. */
export const uiLanguages = ['en-US', 'es-US'] as const;
export type UiLanguage = (typeof uiLanguages)[number];
export const themes = ['system', 'day', 'night'] as const;
export const densities = ['dense', 'roomy'] as const;

/** Of one list: keys of its columns in order, those that are hidden, and widths in pixels where they were changed. */
export interface ListColumns {
  order: string[];
  hidden: string[];
  widths: Record<string, number>;
}
export interface Preferences {
  /** null: the browser's. */
  language: UiLanguage | null;
  theme: (typeof themes)[number];
  density: (typeof densities)[number];
  /** By the name of the list. */
  columns: Record<string, ListColumns>;
  /** Names of what was hidden: the year ribbon, hints. */
  hidden: string[];
}
export const usual: Preferences = { language: null, theme: 'system', density: 'dense', columns: {}, hidden: [] };

/** The first of the wanted languages that Sheaf speaks, by its first part; American English where it speaks none. */
export const languageFor = (wanted: readonly string[]): UiLanguage =>
  wanted
    .map((one) => uiLanguages.find((known) => known.split('-')[0] === one.split('-')[0]!.toLowerCase()))
    .find((one) => one !== undefined) ?? 'en-US';
