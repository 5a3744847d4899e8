/** The range of a sheet as a whole: copied, cut, pasted into, cleared, filled. */
import type { Ref } from 'vue';
import type { Range } from '#core/tabular/cells';
import type { IntakeRow } from '../../server/contract';
import { useWork } from '@/stores/work';
import { locale, t } from '@/words';
import { mostRows, type useEdits } from './edits';

interface Sheet {
  scroller: Ref<HTMLElement | null>;
  range: Ref<Range>;
  edits: ReturnType<typeof useEdits>;
  rowAt: (index: number) => IntakeRow | undefined;
  between: (top: number, bottom: number) => Promise<IntakeRow[]>;
  /** Does something for which rows may have to come first, while what is typed waits. */
  during: (what: () => Promise<void>) => Promise<void>;
}

export function useClipboard({ scroller, range, edits, rowAt, between, during }: Sheet) {
  const work = useWork();
  /** Does something with the cells of the range, if they are not too many. */
  const withRange = (what: () => Promise<void>): void => {
    if (range.value.bottom - range.value.top >= mostRows)
      work.wrong(new Error(t('intake.tooManyRows', { most: mostRows.toLocaleString(locale) })));
    else void during(what);
  };
  const clear = () => withRange(() => edits.clear(range.value));
  const fillDown = () => withRange(() => edits.fillDown(range.value));
  function copy(event: ClipboardEvent, cut: boolean): void {
    if (event.target !== scroller.value) return;
    event.preventDefault();
    const { top, bottom } = range.value;
    const here = Array.from({ length: bottom - top + 1 }, (_, i) => rowAt(top + i)).filter((row) => row !== undefined);
    if (here.length > bottom - top) event.clipboardData?.setData('text/plain', edits.copied(here, range.value));
    else
      withRange(async () => {
        // Rows had to be loaded first, so the browser may no longer count this as part of the key press.
        const text = edits.copied(await between(top, bottom), range.value);
        await navigator.clipboard?.writeText(text).catch(() => {
          throw new Error(t('intake.copyNeedsPermission'));
        });
      });
    if (cut) clear();
  }
  function paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain');
    if (event.target !== scroller.value || text === undefined) return;
    event.preventDefault();
    withRange(async () => {
      const beyond = await edits.paste(text, range.value);
      if (beyond > 0) work.say(t('intake.notAllPasted', { n: beyond }));
    });
  }
  return { clear, fillDown, copy, paste };
}
