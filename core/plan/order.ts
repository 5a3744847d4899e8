/** The order in which a plan is applied, which is not the one in which it is told. */

/**
 * What ends comes first, as it makes room for what may be open once only: a device that one child gives back and another
 * one gets. All else stays in its order. `kindOf`: as changes are counted, "loan.end".
 */
export function applying<T>(list: readonly T[], kindOf: (one: T) => string): T[] {
  const isEnd = (one: T) => kindOf(one).endsWith('.end');
  return [...list.filter(isEnd), ...list.filter((one) => !isEnd(one))];
}
