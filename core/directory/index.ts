export * from './filter';
export * from './patch';
export * from './resources';
