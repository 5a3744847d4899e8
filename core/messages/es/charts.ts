import type { charts as english } from '../en/charts';

export const charts: Record<keyof typeof english, string> = {
  notKnown: 'desconocido',
  to: '{name} de {percent} a {percent2}',
};
