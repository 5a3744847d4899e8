/** Some acts ask for the password once more: the call that met this waits until it was typed, then goes again. */
import { ref } from 'vue';

interface Asked {
  done: (typed: boolean) => void;
}
/** The question that is open; null: none. */
export const asked = ref<Asked | null>(null);

let open: Promise<boolean> | null = null;
/** Resolves to whether the password was confirmed. Calls that meet it at once share one question. */
export function askPassword(): Promise<boolean> {
  open ??= new Promise<boolean>((done) => (asked.value = { done })).finally(() => {
    asked.value = null;
    open = null;
  });
  return open;
}
