/** Ctrl+Enter carries out what the place at hand is for, wherever the focus is; a sheet over the place comes `first`. */
import { useEventListener } from '@vueuse/core';

/** What is still being typed is taken as on leaving its field. Gives whether all that is typed could be read. */
function taken(): boolean {
  const field = document.activeElement;
  if (field instanceof HTMLInputElement && field.form) {
    field.blur();
    field.focus();
  }
  const unread = [...document.querySelectorAll<HTMLInputElement>('form :invalid')].find(
    (one) => one.validity?.customError,
  );
  unread?.focus();
  return !unread;
}

export function useCarryOut(act: () => unknown, { first = false } = {}): void {
  useEventListener(
    window,
    'keydown',
    (event) => {
      if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      if (first) event.stopImmediatePropagation();
      if (taken()) act();
    },
    { capture: first },
  );
}
