/** Ctrl+Enter carries out what the place at hand is for, wherever the focus is; a sheet over the place comes `first`. */
import { useEventListener } from '@vueuse/core';

export function useCarryOut(act: () => unknown, { first = false } = {}): void {
  useEventListener(
    window,
    'keydown',
    (event) => {
      if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      if (first) event.stopImmediatePropagation();
      act();
    },
    { capture: first },
  );
}
