export * from './make';
export * from './groups';
