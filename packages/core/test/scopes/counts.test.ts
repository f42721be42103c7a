import { describe, expect, test } from '@jest/globals';
import { ap1, toXyz } from '../../src/colour/primaries.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import { countBandCodes, countBandLight } from '../../src/scopes/countBand.ts';
import {
  addScopes,
  chromaticitySpan,
  levelOfStops,
  noScopes,
  scopeColumns,
  scopeLevels,
  scopeSide,
  vectorOf,
  vectorSpan,
  waveformLevels,
} from '../../src/scopes/counts.ts';
import { randomFrom } from '../operations/surroundings.ts';

const [width, height] = [300, 20];
const random = randomFrom(11);
const codes = Uint8Array.from({ length: width * height * 4 }, () => Math.floor(random() * 256));
const light = [0, 1, 2].map(() => Float32Array.from({ length: width * height }, () => 2 ** (random() * 22 - 12)));
const luminance = [0.27, 0.67, 0.06] as const;
const band = { top: 0, rows: height, width };
const sum = (counts: Uint32Array) => counts.reduce((a, b) => a + b, 0);

function countLight(kernels = createWasmKernels(), region?: { x: number; y: number; width: number; height: number }) {
  const heap = new Heap(kernels);
  const planes = light.map((p) => heap.placeFloats(p)) as unknown as [number, number, number];
  const counts = noScopes();
  countBandLight(planes, band, { of: 'working', region }, { luminance, toXyz: toXyz(ap1), heap }, counts);
  return counts;
}

describe('scopes of codes', () => {
  const counts = noScopes();
  countBandCodes(codes, band, { of: 'shown' }, counts);

  test('histogram and waveform hold what is counted one by one', () => {
    const histogram = new Uint32Array(4 * scopeLevels);
    const waveform = new Uint32Array(4 * waveformLevels * scopeColumns);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [r, g, b] = codes.subarray(4 * (y * width + x));
        const brightness = Math.round(0.2126 * r! + 0.7152 * g! + 0.0722 * b!);
        [brightness, r!, g!, b!].forEach((level, c) => {
          histogram[c * scopeLevels + level]!++;
          waveform[(c * waveformLevels + Math.floor(level / 2)) * scopeColumns + Math.floor((x * 256) / width)]!++;
        });
      }
    expect(counts.histogram).toEqual(histogram);
    expect(counts.waveform).toEqual(waveform);
  });

  test('vectors: grey in the middle, full colours where ITU-R BT.709 puts them', () => {
    expect(vectorOf(0.4, 0.4, 0.4).map((v) => Math.abs(v) < 1e-12)).toEqual([true, true]);
    // BT.709-6 item 3.3 on 100 % red, blue and yellow: Cr and Cb of the primary itself are ½.
    expect(vectorOf(1, 0, 0)[1]).toBeCloseTo(0.5, 4);
    expect(vectorOf(0, 0, 1)[0]).toBeCloseTo(0.5, 4);
    expect(vectorOf(1, 0, 0)[0]).toBeCloseTo(-0.1146, 4);
    expect(vectorOf(1, 1, 0)[0]).toBeCloseTo(-0.5, 4);
    const red = noScopes();
    countBandCodes(Uint8Array.of(255, 0, 0, 255), { top: 0, rows: 1, width: 1 }, { of: 'shown' }, red);
    const place = (v: number) => Math.floor(((v + vectorSpan) * scopeSide) / (2 * vectorSpan));
    expect(red.vectors[place(0.5) * scopeSide + place(-0.1146)]).toBe(1);
    expect(sum(counts.vectors)).toBe(width * height);
  });

  test('a region holds its own pixels, its columns span all columns', () => {
    const part = noScopes();
    countBandCodes(codes, band, { of: 'shown', region: { x: 100, y: 5, width: 50, height: 8 } }, part);
    expect(sum(part.histogram)).toBe(4 * 400);
    const columns = new Set([...part.waveform.keys()].filter((i) => part.waveform[i]).map((i) => i % scopeColumns));
    expect([Math.min(...columns), Math.max(...columns), columns.size]).toEqual([0, 250, 50]);
  });

  test('counted in bands and added they are those of the whole', () => {
    const added = noScopes();
    for (const top of [0, 7, 13]) {
      const rows = top === 13 ? 7 : top === 0 ? 7 : 6;
      const part = noScopes();
      countBandCodes(
        codes.subarray(4 * top * width, 4 * (top + rows) * width),
        { top, rows, width },
        { of: 'shown' },
        part,
      );
      addScopes(added, part);
    }
    expect(added).toEqual(counts);
  });
});

describe('scopes of light', () => {
  test('stops: every pixel in the bin of its own logarithm, but for those on a border', () => {
    const counts = countLight();
    const exact = new Uint32Array(scopeLevels);
    for (const v of light[0]!) exact[levelOfStops(Math.log2(v / 0.18))]!++;
    const found = counts.histogram.slice(scopeLevels, 2 * scopeLevels);
    const apart = exact.reduce((n, e, i) => n + Math.abs(e - found[i]!), 0);
    expect(sum(found)).toBe(width * height);
    expect(apart).toBeLessThanOrEqual(2);
    expect([-9, -8, 0, 7.99, 8, 20, -Infinity, NaN].map(levelOfStops)).toEqual([0, 0, 128, 255, 255, 255, 0, 0]);
  });

  test('linear: every number from 0 to 1 in its own of 256 bins, the rest at the ends', () => {
    const heap = new Heap(createWasmKernels());
    const values = [-1, 0, 0.5, 0.999, 1, 7, NaN, Infinity, 1 / 256];
    const planes = [0, 1, 2].map(() => heap.placeFloats(values)) as unknown as [number, number, number];
    const counts = noScopes();
    const row = { top: 0, rows: 1, width: values.length };
    countBandLight(planes, row, { of: 'linear' }, { luminance, toXyz: undefined, heap }, counts);
    const red = counts.histogram.slice(scopeLevels, 2 * scopeLevels);
    expect([red[0], red[1], red[128], red[255], sum(red)]).toEqual([3, 1, 1, 4, 9]);
  });

  test('every so many rows: those that the picture’s own numbers say, however it is cut into bands', () => {
    const whole = noScopes();
    countBandCodes(codes, band, { of: 'shown', every: 4 }, whole);
    expect(sum(whole.vectors)).toBe(5 * width);
    const cut = noScopes();
    for (const [top, rows] of [
      [0, 7],
      [7, 13],
    ] as const)
      countBandCodes(codes.subarray(4 * top * width), { top, rows, width }, { of: 'shown', every: 4 }, cut);
    expect(cut).toEqual(whole);
  });

  test('the same by kernels and twins', () => {
    expect(countLight(createTwinKernels())).toEqual(countLight());
  });

  test('chromaticities: the primaries lie where their definition puts them; what is no light is not counted', () => {
    const heap = new Heap(createWasmKernels());
    const pixels = [
      [1, 0, 0],
      [0, 1, 0],
      [0.3, 0.3, 0.3],
      [0, 0, 0],
      [-1, -1, -1],
      [NaN, 1, 1],
      [Infinity, 1, 1],
    ];
    const planes = [0, 1, 2].map((c) => heap.placeFloats(pixels.map((p) => p[c]!))) as unknown as [
      number,
      number,
      number,
    ];
    const counts = noScopes();
    countBandLight(
      planes,
      { top: 0, rows: 1, width: 7 },
      { of: 'shown' },
      { luminance, toXyz: toXyz(ap1), heap },
      counts,
    );
    const at = ([x, y]: readonly [number, number]) =>
      Math.floor((y * scopeSide) / chromaticitySpan.y) * scopeSide + Math.floor((x * scopeSide) / chromaticitySpan.x);
    // ACES AP1 (SMPTE ST 2065-1 Annex, S-2014-004): red 0.713, 0.293; green 0.165, 0.830; white 0.32168, 0.33767.
    for (const place of [ap1.red, ap1.green, ap1.white]) expect(counts.chromaticity[at(place)]).toBe(1);
    expect(sum(counts.chromaticity)).toBe(3);
    expect(sum(counts.histogram)).toBe(0);
  });
});
