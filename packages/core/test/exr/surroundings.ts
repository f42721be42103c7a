import { deflateSync, inflateSync } from 'node:zlib';
import type { ByteCodec, ByteSink, ByteSource } from '../../src/exr/types.ts';

export const nodeCodec: ByteCodec = {
  inflate: (packed, size) => inflateSync(packed, { maxOutputLength: size, chunkSize: Math.max(size, 64) }),
  deflate: (raw) => deflateSync(raw),
};

/** A source over bytes in memory that notes what was read. */
export function memorySource(bytes: Uint8Array, name = 'memory.exr'): ByteSource & { bytesRead: number } {
  const source = {
    name,
    size: bytes.length,
    bytesRead: 0,
    read(offset: number, length: number) {
      if (offset + length > bytes.length) return Promise.reject(new Error('read past the end'));
      source.bytesRead += length;
      return Promise.resolve(bytes.slice(offset, offset + length));
    },
  };
  return source;
}

export function memorySink(): ByteSink & { bytes(): Uint8Array } {
  let store = new Uint8Array(1 << 16);
  let size = 0;
  return {
    write(position, bytes) {
      size = Math.max(size, position + bytes.length);
      if (size > store.length) {
        const larger = new Uint8Array(size * 2);
        larger.set(store);
        store = larger;
      }
      store.set(bytes, position);
      return Promise.resolve();
    },
    bytes: () => store.slice(0, size),
  };
}

/** A plane's samples as float32 numbers. */
export function widen(plane: Uint16Array | Float32Array | Uint32Array): Float32Array {
  if (!(plane instanceof Uint16Array)) return Float32Array.from(plane);
  return Float32Array.from(plane, (h) => {
    const exponent = (h >> 10) & 31;
    const sign = h & 0x8000 ? -1 : 1;
    if (exponent === 31) return h & 1023 ? NaN : sign * Infinity;
    return sign * (exponent ? (1 + (h & 1023) / 1024) * 2 ** (exponent - 15) : ((h & 1023) / 1024) * 2 ** -14);
  });
}
