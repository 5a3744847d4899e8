/** Which key of a sheet does what; the habits are those that spreadsheets share (common practice). */
import { expect, it } from 'vitest';
import { ref } from 'vue';
import { useKeys } from './keys';

function sheet({ isTaken = false } = {}) {
  const done: string[] = [];
  const note = (what: string) => () => void done.push(what);
  const box = document.createElement('div');
  const onKey = useKeys({
    scroller: ref(box),
    led: ({ key }) => (key === 'ArrowDown' ? [1, 0] : null),
    moveTo: (row, column, extend) => void done.push(`to ${row},${column}${extend ? ' extended' : ''}`),
    taken: () => isTaken,
    chords: { z: note('undo'), d: note('fill down') },
    alts: { ArrowDown: note('next problem') },
    widenRows: note('rows'),
    edit: (typed) => void done.push(`edit ${typed ?? ''}`.trim()),
    clear: note('clear'),
  });
  /** What it did, and whether the browser's own meaning of the key is put off. */
  const press = (key: string, more: KeyboardEventInit = {}, at: HTMLElement = box) => {
    const event = new KeyboardEvent('keydown', { key, cancelable: true, ...more });
    Object.defineProperty(event, 'target', { value: at });
    onKey(event);
    return [done.splice(0).join('; '), event.defaultPrevented];
  };
  return press;
}

it('moves, extends, opens, types over, clears and fills', () => {
  const press = sheet();
  expect(press('ArrowDown')).toEqual(['to 1,0', true]);
  expect(press('ArrowDown', { shiftKey: true })).toEqual(['to 1,0 extended', true]);
  expect(press('Enter')).toEqual(['edit', true]);
  expect(press('F2')).toEqual(['edit', true]);
  expect(press('x')).toEqual(['edit x', true]);
  expect(press('Delete')).toEqual(['clear', true]);
  expect(press(' ', { shiftKey: true })).toEqual(['rows', true]);
  expect(press('d', { ctrlKey: true })).toEqual(['fill down', true]);
  expect(press('z', { metaKey: true })).toEqual(['undo', true]);
  expect(press('ArrowDown', { altKey: true })).toEqual(['next problem', true]);
});

it('leaves to the browser what it does not know, and what is typed elsewhere', () => {
  const press = sheet();
  expect(press('p', { ctrlKey: true })).toEqual(['', false]);
  expect(press('Tab')).toEqual(['', false]);
  expect(press('Enter', { altKey: true })).toEqual(['', false]);
  expect(press('x', {}, document.createElement('input'))).toEqual(['', false]);
});

it('does nothing with a key that waits for rows to come', () => {
  expect(sheet({ isTaken: true })('x')).toEqual(['', true]);
});
