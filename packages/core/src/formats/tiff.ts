/** The tags of a TIFF's first picture that matter here (TIFF 6.0). */
export interface TiffTags {
  /** 0 unspecified, 1 premultiplied, 2 straight (TIFF 6.0, ExtraSamples); undefined without extra samples. */
  readonly extraSamples: number | undefined;
  /** TIFF 6.0, Compression, in words. */
  readonly compression: string;
  /** Set when the file holds 16-bit floats. */
  readonly bits: number;
  readonly float: boolean;
  readonly software: string | undefined;
}

const compressions: Readonly<Record<number, string>> = {
  1: 'none',
  5: 'lzw',
  7: 'jpeg',
  8: 'deflate',
  32773: 'packbits',
  32946: 'deflate',
  50000: 'zstd',
};

/** Reads the first directory of a TIFF whole in memory, or as much of it as there is; damaged tables give what could be read. */
export function tiffTags(bytes: Uint8Array): TiffTags {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = bytes[0] === 0x49;
  const tags = new Map<number, { type: number; count: number; at: number }>();
  const start = bytes.length >= 8 ? view.getUint32(4, little) : 0;
  const count = start > 0 && start + 2 <= bytes.length ? view.getUint16(start, little) : 0;
  for (let i = 0; i < count; i++) {
    const at = start + 2 + i * 12;
    if (at + 12 > bytes.length) break;
    tags.set(view.getUint16(at, little), {
      type: view.getUint16(at + 2, little),
      count: view.getUint32(at + 4, little),
      at: at + 8,
    });
  }
  const short = (tag: number) => {
    const found = tags.get(tag);
    if (!found) return undefined;
    const at = found.count > 2 ? view.getUint32(found.at, little) : found.at;
    return at + 2 <= bytes.length ? view.getUint16(at, little) : undefined;
  };
  const ascii = (tag: number) => {
    const found = tags.get(tag);
    if (!found || found.type !== 2 || found.count <= 4) return undefined;
    const at = view.getUint32(found.at, little);
    return String.fromCharCode(...bytes.subarray(at, at + Math.min(found.count - 1, 200)));
  };
  return {
    extraSamples: short(338),
    compression: compressions[short(259) ?? 1] ?? `number ${short(259)}`,
    bits: short(258) ?? 1,
    float: short(339) === 3,
    software: ascii(305),
  };
}
