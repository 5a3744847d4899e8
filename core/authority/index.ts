export * from './roles';
export * from './scope';
export * from './fields';
export * from './changes';
