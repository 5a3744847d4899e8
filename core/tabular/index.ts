export * from './decode';
export * from './split';
export * from './fields';
export * from './values';
export * from './reading';
export * from './rows';
