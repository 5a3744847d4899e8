import { beforeEach, expect, it } from 'vitest';
import { forgetSession, wish, wished } from './after';

beforeEach(() => sessionStorage.clear());

it('is given once, and the first page is none', () => {
  wish('/', true);
  expect(wished()).toBeNull();
  wish('/w/1', true);
  expect([wished(), wished()]).toEqual(['/w/1', null]);
});

it('stays for whoever signs in where nobody was, and goes with the session of somebody else', () => {
  sessionStorage.setItem('where', '{}');
  wish('/w/1', true);
  forgetSession();
  expect([sessionStorage.getItem('where'), wished()]).toEqual([null, '/w/1']);
  wish('/people', false);
  forgetSession();
  expect(wished()).toBeNull();
});
