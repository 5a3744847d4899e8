export * from './match';
export * from './import';
