import { expect, test } from '@jest/globals';
import { encodingInWords } from '../../src/config/encodingInWords.ts';
import {
  codeOfLight,
  displayCodes,
  encodingOfSpace,
  isHdr,
  lightOfCode,
  recodePicture,
  recodeSteps,
  type CodeEncoding,
} from '../../src/colour/displayCodes.ts';
import { decodeSteps, kernels, requireSpace, runSteps } from '@june-haze/core';
import { labOfCodes } from '../../src/proof/ciede2000.ts';

const all = Object.keys(displayCodes) as CodeEncoding[];

test.each(all)('%s: light and codes are each other’s way back', (encoding) => {
  // PQ's own code for no light is 7e-7.
  for (let i = 0; i <= 255; i++)
    expect(Math.abs(codeOfLight(lightOfCode(i / 255, encoding), encoding) - i / 255)).toBeLessThan(1e-6);
});

test('PQ: the signal levels that ITU-R BT.2408-7 gives in tables 1 and 3 for 10, 100, 203 and 1000 cd/m²', () => {
  // Of BT.2408: 38 % for 26 cd/m² of middle grey, 58 % for 203 cd/m² of white (table 1); 100 cd/m² is 0.508, 1000 cd/m² is 0.752 (values from memory).
  const signal = (nits: number) => codeOfLight(nits / 203, 'pq');
  expect(signal(203)).toBeCloseTo(0.58, 2);
  expect(signal(26)).toBeCloseTo(0.38, 2);
  expect(signal(100)).toBeCloseTo(0.508, 3);
  expect(signal(1000)).toBeCloseTo(0.752, 3);
  expect(lightOfCode(1, 'pq') * 203).toBeCloseTo(10_000, 6);
});

test('HLG: the signal levels that ITU-R BT.2408-7 gives in table 1: 75 % for 203 cd/m², 38 % for middle grey of 26', () => {
  const signal = (nits: number) => codeOfLight(nits / 203, 'hlg');
  expect(signal(203)).toBeCloseTo(0.75, 2);
  expect(signal(26)).toBeCloseTo(0.38, 2);
  // BT.2100-2, table 5: the peak of 1000 cd/m² is code 1; the two pieces of the curve meet at E = 1/12, code 0.5.
  expect(signal(1000)).toBeCloseTo(1, 6);
  expect(lightOfCode(0.5, 'hlg') * 203).toBeCloseTo(1000 * (1 / 12) ** 1.2, 6);
});

test('HLG: a colour goes through the surround by its luminance, as the steps of the built-in space do; and is shown as PQ shows it', () => {
  const codes = Float32Array.from([0.7, 0.3, 0.45]);
  const steps = decodeSteps(requireSpace('HLG'));
  const [r, g, b] = runSteps(steps, [...codes].map((v) => [v]) as never, kernels()).map((p) => p[0]!) as number[];
  const seen = Float64Array.from(codes, (c) => lightOfCode(c, 'hlg'));
  displayCodes.hlg.bound!.forth(seen);
  // The built-in space's 1 is 100 cd/m².
  [r!, g!, b!].forEach((v, c) => expect(Math.abs(seen[c]! * 2.03 - v) / v).toBeLessThan(1e-4));
  displayCodes.hlg.bound!.back(seen);
  seen.forEach((l, c) => expect(codeOfLight(l, 'hlg')).toBeCloseTo(codes[c]!, 5));
  const pq = runSteps(recodeSteps('hlg', 'pq'), [...codes].map((v) => [v]) as never, kernels()).map((p) => p[0]!);
  pq.forEach((v, c) => expect(v).toBeCloseTo(codeOfLight([r!, g!, b!][c]! / 2.03, 'pq'), 4));
  const pixel = Uint8Array.from([...codes, 1], (v) => Math.round(v * 255));
  const asPq = recodePicture(pixel, 'hlg', 'pq');
  pq.forEach((v, c) => expect(Math.abs(asPq[c]! - v * 255)).toBeLessThan(1.5));
});

test('code points of ITU-T H.273, tables 2 to 4: BT.709, sRGB, P3-D65 and BT.2020 with PQ', () => {
  expect(displayCodes.bt1886.codePoints).toEqual([1, 1, 1]);
  expect(displayCodes.srgb.codePoints).toEqual([1, 13, 1]);
  expect(displayCodes.displayP3.codePoints?.slice(0, 2)).toEqual([12, 13]);
  expect(displayCodes.pq.codePoints).toEqual([9, 16, 9]);
  expect(displayCodes.hlg.codePoints).toEqual([9, 18, 9]);
});

test('every kind is a space that Intake knows by name', () => {
  for (const encoding of all)
    for (const space of displayCodes[encoding].spaces) expect(encodingOfSpace(space)).toBe(encoding);
  expect(encodingOfSpace('ACEScg')).toBeUndefined();
});

test('grey and white are the same colour in every kind of codes, and a picture that is recoded shows the same', () => {
  const codes = Uint8Array.from([200, 120, 90, 255, 30, 140, 60, 7, 128, 128, 128, 255]);
  const lab = (rgba: Uint8Array, at: number, e: CodeEncoding) => labOfCodes(rgba[at]!, rgba[at + 1]!, rgba[at + 2]!, e);
  for (const encoding of all.filter((e) => !isHdr(e)))
    expect(labOfCodes(255, 255, 255, encoding).map((x) => Math.abs(x) < 0.05 || x)).toEqual([
      expect.closeTo(100, 2),
      true,
      true,
    ]);
  for (const to of all) {
    const recoded = recodePicture(codes, 'srgb', to);
    expect(recoded[7]).toBe(7);
    for (const at of [0, 4, 8]) {
      const [a, b] = [lab(codes, at, 'srgb'), lab(recoded, at, to)];
      // A code of 8 bits is 1.2 of L* at most in PQ, where white is code 148.
      expect(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])).toBeLessThan(isHdr(to) ? 2.5 : 1);
    }
  }
});

test.each<[string, CodeEncoding | undefined]>([
  ['sRGB - Display', 'srgb'],
  ['Rec.1886 Rec.709 - Display', 'bt1886'],
  ['Display P3 - Display', 'displayP3'],
  ['P3-D65 2.6 gamma projector', 'p3Cinema'],
  ['Rec.2100-PQ - Display', 'pq'],
  ['ST2084 1000 nits', 'pq'],
  ['P3 PQ monitor', undefined],
  ['Rec.2100-HLG - Display', 'hlg'],
  ['P3 HLG', undefined],
  ['Rec.1886 Rec.2020 - Display', undefined],
  ['P3 DCI white 2.6', undefined],
  ['Projector', undefined],
])('a config’s display named "%s" is %s', (words, encoding) => {
  expect(encodingInWords(words)).toBe(encoding);
});
