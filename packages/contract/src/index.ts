export * from './ledger.ts';
export * from './shot.ts';
export * from './source.ts';
export * from './output.ts';
export * from './media.ts';
export * from './events.ts';
export * from './problem.ts';
export * from './library.ts';
