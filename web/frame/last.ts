/** Where somebody was last in each place: coming back shows the same list, with its filters. */
import type { Router } from 'vue-router';

const last = new Map<string, string>();
const rootOf = (path: string): string => `/${path.split('/')[1] ?? ''}`;

/** A list, not one thing in it: those have an address of 26 letters. */
const isList = (path: string): boolean => !/\/[0-9A-Z]{26}(\/|$)/.test(path);

export function rememberLists(router: Router): void {
  router.afterEach(({ path, fullPath }) => {
    if (isList(path)) last.set(rootOf(path), fullPath);
  });
}
/** The address of a place: as it was left, or from anew where one is in it already. */
export const addressOf = (place: string, from: string): string =>
  rootOf(from) === place && isList(from) ? place : (last.get(place) ?? place);
export const forgetLists = (): void => last.clear();
