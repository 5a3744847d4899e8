export * from './people';
export * from './link';
export * from './duplicates';
export * from './claim';
export { type Evidence } from './evidence';
export { type Never } from './model';
