/** The server answers, and its database does not: said once for all pages, which go on by themselves when it is back. */
import { ref } from 'vue';

export const isAway = ref(false);

const everyMs = 3000;
let waiting: Promise<void> | null = null;

/** Resolves when the database answers again. All who wait share one question every few seconds. */
export function whenBack(pauseMs = everyMs): Promise<void> {
  waiting ??= (async () => {
    isAway.value = true;
    for (let isBack = false; !isBack;) {
      await new Promise((next) => setTimeout(next, pauseMs));
      isBack = await fetch('/healthz').then(
        (answer) => answer.ok,
        () => false,
      );
    }
  })().finally(() => {
    isAway.value = false;
    waiting = null;
  });
  return waiting;
}
