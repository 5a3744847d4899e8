export const charts = {
  notKnown: 'unknown',
  to: '{name} {percent} to {percent2}',
};
