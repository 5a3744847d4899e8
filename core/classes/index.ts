export * from './make';
export * from './groups';
export * from './reshape';
export * from './levels';
