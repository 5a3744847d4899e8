/** Time zones to choose from, in words: those that the browser knows, and the one that is chosen. */
export const zones = (chosen: string): { value: string; label: string }[] =>
  [...new Set([...Intl.supportedValuesOf('timeZone'), 'UTC', chosen])]
    .sort()
    .map((value) => ({ value, label: value.replaceAll('_', ' ') }));
