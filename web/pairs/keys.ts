/** S, D, L and U settle pairs wherever the focus is, unless something is being typed. */
import { useEventListener } from '@vueuse/core';

export interface Settling {
  same: () => unknown;
  different: () => unknown;
  later: () => unknown;
  back: () => unknown;
  /** To another candidate, or another pair. */
  move: (by: 1 | -1, what: 'candidate' | 'pair') => unknown;
}

export function useSettling(act: Settling): void {
  useEventListener(window, 'keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target instanceof HTMLElement && event.target.matches('input, textarea, select')) return;
    const keys: Record<string, () => unknown> = {
      s: act.same,
      d: act.different,
      l: act.later,
      u: act.back,
      ArrowDown: () => act.move(1, 'candidate'),
      ArrowUp: () => act.move(-1, 'candidate'),
      ArrowRight: () => act.move(1, 'pair'),
      ArrowLeft: () => act.move(-1, 'pair'),
    };
    const run = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!run) return;
    event.preventDefault();
    run();
  });
}
