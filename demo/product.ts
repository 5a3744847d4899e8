/** How the demo's products are addressed and known: what the server and the one who stands in for them share. */

/** The secret of their keys. */
export const demoKey = 'flood-tide';
export const slug = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]+/g, '-');
/** Of the key by which a product tells of its use. `product`: its part of an address. */
export const keyNameOf = (product: string): string => `demo-${product}`;
