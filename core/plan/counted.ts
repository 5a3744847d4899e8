/** "1 change", "2,000 changes". */
export const counted = (n: number, [one, many]: readonly [one: string, many: string]): string =>
  `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;
