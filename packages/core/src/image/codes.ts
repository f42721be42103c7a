/** Integers of pictures, interleaved. */
type Samples = Uint8Array | Uint16Array;

/** Codes of 16 bits as those of 8, rounded to the nearest: 65535 is 255 times 257, which no code is half way between. */
export function toEightBits(codes: Uint16Array): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(codes.length);
  for (let i = 0; i < codes.length; i++) out[i] = (codes[i]! + 128) / 257;
  return out;
}

/** Red, green and blue of 8 bits, interleaved, with alpha of 255 behind each. */
export function coveringCodes(rgb: Uint8Array): Uint8Array<ArrayBuffer> {
  const rgba = new Uint8Array((rgb.length / 3) * 4).fill(255);
  for (let i = 0, at = 0; i < rgb.length; i += 3, at += 4) {
    rgba[at] = rgb[i]!;
    rgba[at + 1] = rgb[i + 1]!;
    rgba[at + 2] = rgb[i + 2]!;
  }
  return rgba;
}

/** Three samples a pixel of four: red, green and blue. */
export function coloursOf<T extends Samples>(rgba: T): T {
  const out = new (rgba.constructor as new (n: number) => T)((rgba.length / 4) * 3);
  for (let i = 0, to = 0; i < rgba.length; i += 4, to += 3) {
    out[to] = rgba[i]!;
    out[to + 1] = rgba[i + 1]!;
    out[to + 2] = rgba[i + 2]!;
  }
  return out;
}

/** One of a picture's channels as floats, 0 … 1. */
export function channelOf(samples: Samples, channels: 3 | 4, channel: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(samples.length / channels);
  const most = samples instanceof Uint16Array ? 65535 : 255;
  for (let i = 0, from = channel; i < out.length; i++, from += channels) out[i] = samples[from]! / most;
  return out;
}
