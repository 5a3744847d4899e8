export * from './calendar';
export * from './map';
export * from './rollover';
export * from './sections';
