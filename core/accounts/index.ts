export * from './username';
export * from './secret';
export { words } from './words';
