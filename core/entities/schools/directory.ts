import { entity, oneOf } from '../declare';

/** What the directory was sent; plans mark what is to be sent anew. All else of it is the sender's own. */
export const directory = entity('directory_items', { state: oneOf(['wait', 'sent', 'failed', 'gone'], 6) });
