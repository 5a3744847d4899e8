export * from './spec';
export * from './table';
export * from './bundle';
export * from './diff';
export * from './people';
export * from './records';
export * from './export';
export * from './night';
