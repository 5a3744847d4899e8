import { first } from './first';
import { rest } from './rest';

export const en = { ...first, ...rest };
