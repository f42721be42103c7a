// What opening a file needs and no more: a command that reads a header starts without the rest of core.
export { openExr } from './header.ts';
export { ExrError, type AttributeValue, type ByteSource } from './types.ts';
