/**
 * Picture secrets for those who do not read yet: three of twenty-four pictures in an order, none twice. A picture has a
 * name, and a secret is its names between hyphens, so that it can be typed, read aloud and printed like any other.
 * The drawings are Sheaf's own: strokes of width 2 on a field of 24 by 24.
 */
export const pictures: Record<string, string> = {
  sun: 'M12 7a5 5 0 1 0 0 10a5 5 0 1 0 0-10M12 1v3M12 20v3M1 12h3M20 12h3M4.2 4.2l2.1 2.1M17.7 17.7l2.1 2.1M4.2 19.8l2.1-2.1M17.7 6.3l2.1-2.1',
  moon: 'M18 15.5A8 8 0 1 1 11 3a6.5 6.5 0 0 0 7 12.5z',
  star: 'M12 2l3 6.6 7 .8-5.2 4.8 1.5 7L12 17.6 5.7 21.2l1.5-7L2 9.4l7-.8z',
  cloud: 'M6 19h12a4 4 0 0 0 .6-8A6 6 0 0 0 7 9.2A5 5 0 0 0 6 19z',
  house: 'M3 11l9-8 9 8M5 9.5V21h14V9.5M10 21v-6h4v6',
  tree: 'M12 22v-6M12 2l6 8h-3l4 6H5l4-6H6z',
  leaf: 'M4 20C4 9 11 4 20 4c0 9-5 16-16 16zM4 20L14 10',
  fish: 'M2 12c4-6 11-6 15 0-4 6-11 6-15 0zM17 12l5-4v8zM7 11v1',
  bird: 'M2 10c4 0 6 2 7 4 3-1 5-5 5-9 3 1 4 3 4 5l4 1-4 2c-1 5-6 8-12 7',
  boat: 'M2 16h20l-3 5H5zM12 14V2l7 12zM10 14V5l-6 9z',
  kite: 'M12 2l7 8-7 8-7-8zM12 2v16M5 10h14M12 18l3 4',
  ball: 'M12 2a10 10 0 1 0 0 20a10 10 0 1 0 0-20M2 12h20M12 2c-5 6-5 14 0 20M12 2c5 6 5 14 0 20',
  bell: 'M5 17c2-2 2-4 2-7a5 5 0 0 1 10 0c0 3 0 5 2 7zM10 20h4M12 5V3',
  key: 'M7 8a4 4 0 1 0 0 8a4 4 0 1 0 0-8M11 12h11M18 12v4M22 12v3',
  cup: 'M4 6h13v8a5 5 0 0 1-5 5H9a5 5 0 0 1-5-5zM17 8h2a3 3 0 0 1 0 6h-2M3 22h15',
  hat: 'M6 16V8c0-3 12-3 12 0v8M2 16h20c0 3-20 3-20 0zM6 12h12',
  drum: 'M3 8c0-4 18-4 18 0v9c0 4-18 4-18 0zM3 8c0 4 18 4 18 0M7 11v8M12 11.5v8M17 11v8',
  flag: 'M5 22V2M5 4h14l-4 4 4 5H5',
  egg: 'M12 2c4 0 7 6 7 11a7 7 0 0 1-14 0C5 8 8 2 12 2z',
  apple: 'M12 7c-3-2-8-1-8 5 0 5 3 9 5 9 1 0 2-.7 3-.7s2 .7 3 .7c2 0 5-4 5-9 0-6-5-7-8-5zM12 7c0-2 1-4 3-5',
  heart: 'M12 21C5 15 2 12 2 8a5 5 0 0 1 10-1a5 5 0 0 1 10 1c0 4-3 7-10 13z',
  ladder: 'M7 2v20M17 2v20M7 6h10M7 11h10M7 16h10',
  umbrella: 'M2 13a10 10 0 0 1 20 0zM12 13v6a2.5 2.5 0 0 1-5 0M12 3V1',
  candle: 'M9 10h6v12H9zM12 10V8M12 8c-2-2-1-4 0-6 1 2 2 4 0 6zM6 22h12',
};
export const pictureNames = Object.keys(pictures);

/** The pictures of a secret; null when it is of words. */
export function picturesOf(secret: string): string[] | null {
  const names = secret.split('-');
  return names.length >= 2 && names.every((name) => name in pictures) ? names : null;
}
