import type { charts as english } from '../en/charts';

export const charts: Record<keyof typeof english, string> = {
  to: '{name} de {percent} a {percent2}',
  unknown: 'desconocido',
};
