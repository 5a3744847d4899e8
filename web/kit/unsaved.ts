/** Asks before another page is opened while something typed here is not saved. */
import { onScopeDispose, shallowRef } from 'vue';
import { useRouter } from 'vue-router';

/** The question that is open, to be answered with whether to leave; null: none. `LeaveDialog` shows it. */
export const leaving = shallowRef<((mayLeave: boolean) => void) | null>(null);

const mayLeave = (): Promise<boolean> =>
  new Promise<boolean>((done) => (leaving.value = done)).finally(() => (leaving.value = null));

/**
 * `isTyped`: whether there is anything that would be lost. Changing the filters of the same page
 * does not ask, nor does being signed out.
 */
export function useUnsaved(isTyped: () => boolean): void {
  const stop = useRouter().beforeEach((to, from) =>
    to.path === from.path || to.meta.open || !isTyped() ? true : mayLeave(),
  );
  onScopeDispose(stop);
}
