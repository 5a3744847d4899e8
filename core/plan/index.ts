export * from './change';
export * from './apply';
export * from './invert';
export * from './merge';
export * from './summarise';
export * from './guard';
export * from './pack';
export * from './group';
