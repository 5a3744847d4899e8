export * from './pictures';
export * from './username';
export * from './secret';
export { words } from './words';
