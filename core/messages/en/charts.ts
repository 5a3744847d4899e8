export const charts = {
  to: '{name} {percent} to {percent2}',
  unknown: 'unknown',
};
