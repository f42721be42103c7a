export * from './byteSource.ts';
export * from './zlibCodec.ts';
export * from './writeWhole.ts';
export * from './pictures.ts';
export * from './openConfig.ts';
