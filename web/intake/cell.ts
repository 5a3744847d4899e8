/** The cell that is being edited, and keys that are typed before what they are meant for is there. */
import { nextTick, ref } from 'vue';

interface Field {
  focus(): void;
  select(): void;
}
const isField = (one: unknown): one is Field => typeof one === 'object' && one !== null && 'select' in one;

/** `put`: what is to become of the text when the cell is left with Enter (`down`) or otherwise. */
export function useCell(put: (text: string, down: boolean) => void) {
  const text = ref<string | null>(null);
  /** Whether what is typed next takes the place of what stands in the cell. */
  let selected = false;
  let field: unknown = null;

  /** With `typed`, the key that began it, in place of what stands there. */
  function begin(stands: string, typed?: string): void {
    text.value = typed ?? stands;
    selected = typed === undefined;
  }
  /** The field, as soon as it is there: some frames later where its row is far away. */
  function shown(now: unknown): void {
    const isNew = now !== field;
    field = now;
    if (!isNew || !isField(now)) return;
    // Once its text is in it.
    void nextTick(() => {
      now.focus();
      if (selected) now.select();
    });
  }
  function leave(down: boolean): void {
    if (text.value === null) return;
    const now = text.value;
    text.value = null;
    put(now, down);
  }
  const giveUp = () => (text.value = null);
  /** A key for the cell whose field is not there yet; false if no cell is being edited. */
  function type({ key }: KeyboardEvent): boolean {
    if (text.value === null) return false;
    if (key === 'Enter') leave(true);
    else if (key === 'Escape') giveUp();
    else if (key.length === 1) {
      text.value = (selected ? '' : text.value) + key;
      selected = false;
    }
    return true;
  }
  return { text, begin, shown, leave, giveUp, type };
}

/** Keys typed while something is on its way are meant for it: `handle` gets them once it is there. */
export function useAhead(handle: (event: KeyboardEvent) => void) {
  let underWay = false;
  let keys: KeyboardEvent[] = [];
  return {
    /** True: the key waits. */
    held(event: KeyboardEvent): boolean {
      if (underWay) keys.push(event);
      return underWay;
    },
    /** Does what takes time; when it fails, the keys are for nothing. */
    async during(work: () => Promise<void>): Promise<void> {
      underWay = true;
      try {
        await work();
      } catch (error) {
        keys = [];
        throw error;
      } finally {
        underWay = false;
      }
      while (!underWay && keys.length > 0) handle(keys.shift()!);
    },
  };
}
