import { ExrError, type ByteCodec, type Compression } from './types.ts';

/** The codecs whose pixels can be read and written so far. */
export const readableCompressions: readonly Compression[] = ['none', 'rle', 'zips', 'zip'];
export const writableCompressions: readonly Compression[] = ['none', 'zips', 'zip'];

/** Unpacks one chunk to its raw size. A chunk as large as its raw size is stored as it is, whatever the codec. */
export function unpackChunk(
  file: string,
  compression: Compression,
  packed: Uint8Array,
  size: number,
  codec: ByteCodec,
): Uint8Array {
  if (packed.length === size || compression === 'none') {
    if (packed.length !== size) throw new ExrError(file, `a chunk has ${packed.length} bytes where ${size} belong.`);
    return packed;
  }
  if (compression === 'rle') return joinHalves(undoDifferences(unpackRuns(file, packed, size)));
  if (compression !== 'zip' && compression !== 'zips') {
    throw new ExrError(file, `pixels packed with ${compression.toUpperCase()} cannot be read yet.`);
  }
  let raw: Uint8Array;
  try {
    raw = codec.inflate(packed, size);
  } catch (error) {
    throw new ExrError(file, `a packed chunk is damaged (${(error as Error).message}).`);
  }
  if (raw.length !== size) throw new ExrError(file, `a chunk unpacks to ${raw.length} bytes where ${size} belong.`);
  return joinHalves(undoDifferences(raw));
}

/** Packs one raw chunk; returns the raw bytes themselves when packing does not make them smaller. */
export function packChunk(compression: Compression, raw: Uint8Array, codec: ByteCodec): Uint8Array {
  if (compression === 'none') return raw;
  const packed = codec.deflate(takeDifferences(splitHalves(raw)));
  return packed.length < raw.length ? packed : raw;
}

/** Run-length bytes: a count of -n copies n bytes, n repeats the next byte n + 1 times (OpenEXR technical introduction). */
function unpackRuns(file: string, packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  for (let i = 0; i < packed.length;) {
    const count = (packed[i++]! << 24) >> 24;
    const length = count < 0 ? -count : count + 1;
    if (at + length > size || (count < 0 ? i + length : i + 1) > packed.length) {
      throw new ExrError(file, 'a run-length chunk is damaged.');
    }
    if (count < 0) {
      out.set(packed.subarray(i, i + length), at);
      i += length;
    } else out.fill(packed[i++]!, at, at + length);
    at += length;
  }
  if (at !== size) throw new ExrError(file, 'a run-length chunk is too short.');
  return out;
}

function undoDifferences(bytes: Uint8Array): Uint8Array {
  let previous = bytes[0] ?? 0;
  for (let i = 1; i < bytes.length; i++) {
    previous = (previous + bytes[i]! - 128) & 255;
    bytes[i] = previous;
  }
  return bytes;
}

/** The first half holds the even bytes and is the longer one for odd sizes. */
function joinHalves(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0, k = 0; k < half; i += 2, k++) out[i] = bytes[k]!;
  for (let i = 1, k = half; k < bytes.length; i += 2, k++) out[i] = bytes[k]!;
  return out;
}

function splitHalves(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0, k = 0; k < half; i += 2, k++) out[k] = bytes[i]!;
  for (let i = 1, k = half; k < bytes.length; i += 2, k++) out[k] = bytes[i]!;
  return out;
}

function takeDifferences(bytes: Uint8Array): Uint8Array {
  let previous = bytes[0] ?? 0;
  for (let i = 1; i < bytes.length; i++) {
    const current = bytes[i]!;
    bytes[i] = (current - previous + 128 + 256) & 255;
    previous = current;
  }
  return bytes;
}
