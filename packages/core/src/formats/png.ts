import { chromaticityEvidence, type Evidence } from '../intake/evidence.ts';
import { codePointEvidence } from './codePoints.ts';

/** Walks a PNG's chunks before its pixels (PNG third edition, 5.3). `head` is the file's beginning; what is cut off is not seen. */
function* chunksOf(head: Uint8Array): Generator<{ type: string; data: DataView }> {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  for (let at = 8; at + 12 <= head.length;) {
    const length = view.getUint32(at);
    const type = String.fromCharCode(...head.subarray(at + 4, at + 8));
    if (type === 'IDAT' || at + 12 + length > head.length) return;
    yield { type, data: new DataView(head.buffer, head.byteOffset + at + 8, length) };
    at += 12 + length;
  }
}

/**
 * Colour tags of a PNG but for its ICC profile, in the standard's order of precedence (PNG third edition, 11.3.2): cICP, sRGB, then gAMA
 * and cHRM.
 */
export function pngEvidence(head: Uint8Array): Evidence[] {
  const found: Evidence[] = [];
  for (const { type, data } of chunksOf(head)) {
    if (type === 'cICP' && data.byteLength === 4)
      found.unshift(...codePointEvidence(data.getUint8(0), data.getUint8(1), 'cICP'));
    if (type === 'sRGB') found.push({ from: 'colour tags', says: 'sRGB chunk', space: 'sRGB' });
    if (type === 'gAMA' && data.byteLength === 4) found.push(gammaEvidence(data.getUint32(0) / 100_000));
    if (type === 'cHRM' && data.byteLength === 32) {
      const at = (i: number) => [data.getUint32(i * 8) / 1e5, data.getUint32(i * 8 + 4) / 1e5] as const;
      const [white, red, green, blue] = [at(0), at(1), at(2), at(3)];
      found.push({ ...chromaticityEvidence({ red, green, blue, white }), weight: 0.6 });
    }
  }
  // gAMA beside cICP or sRGB repeats them for old readers and counts for nothing (11.3.2.1).
  const strong = found.some((e) => /^(cICP|sRGB)/.test(e.says));
  return strong ? found.filter((e) => !e.says.startsWith('gAMA')) : found;
}

/** gAMA holds the exponent from light to code (11.3.2.1): 1/2.2 stands for the sRGB curve as well. */
function gammaEvidence(exponent: number): Evidence {
  const says = `gAMA ${exponent}`;
  const near = (x: number) => Math.abs(exponent - x) < 0.01 * x;
  if (near(1)) return { from: 'colour tags', says: `${says}: linear`, space: 'Linear Rec.709' };
  if (near(1 / 2.2)) return { from: 'colour tags', says, space: 'sRGB', weight: 0.7 };
  if (near(1 / 1.8)) return { from: 'colour tags', says, space: 'Gamma 1.8', weight: 0.7 };
  if (near(1 / 2.4)) return { from: 'colour tags', says, space: 'BT.1886', weight: 0.7 };
  return { from: 'colour tags', says, about: 'encoded', weight: 0.5 };
}

/** Pixels across over pixels down, from pHYs (11.3.4.3); 1 when it says nothing. */
export function pngPixelAspect(head: Uint8Array): number {
  for (const { type, data } of chunksOf(head)) {
    if (type !== 'pHYs' || data.byteLength !== 9) continue;
    const [across, down] = [data.getUint32(0), data.getUint32(4)];
    if (across > 0 && down > 0) return down / across;
  }
  return 1;
}
