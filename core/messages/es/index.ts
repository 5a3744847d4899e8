import type { Messages } from '../index';
import { first } from './first';
import { rest } from './rest';

export const es: Messages = { ...first, ...rest };
