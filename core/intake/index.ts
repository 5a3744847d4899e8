export * from './match';
export * from './import';
export * from './terms';
export * from './three-way';
export * from './roster';
export * from './news';
export * from './waiting';
