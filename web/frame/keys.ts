/** Ctrl+Enter carries out what the place at hand is for, wherever the focus is; a sheet over the place comes `first`. */
import { useEventListener } from '@vueuse/core';

/** What is still being typed is taken as on leaving its field. Gives whether the form can be carried out. */
function taken(): boolean {
  const field = document.activeElement;
  const form = field?.closest('form');
  if (!(field instanceof HTMLInputElement) || !form) return true;
  field.blur();
  field.focus();
  return form.reportValidity();
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
