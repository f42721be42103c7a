/** Codes of 16 bits as those of 8, rounded to the nearest: 65535 is 255 times 257. */
export const toEightBits = (codes: Uint16Array): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(codes, (v) => Math.round(v / 257));

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
