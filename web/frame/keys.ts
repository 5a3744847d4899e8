/** Ctrl+Enter carries out what the place at hand is for, wherever the focus is. */
import { useEventListener } from '@vueuse/core';

export function useCarryOut(act: () => unknown): void {
  useEventListener(window, 'keydown', (event) => {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    act();
  });
}
