import type { Heap } from '../../src/kernel/heap.ts';
import type { Kernels } from '../../src/kernel/kernels.ts';
import { curveTable } from '../../src/colour/curveTable.ts';
import { rec2020 } from '../../src/colour/primaries.ts';
import { renderingBlock } from '../../src/transform/aces2/block.ts';
import { rendering } from '../../src/transform/aces2/parameters.ts';
import { cinemaSpline, rrtSpline, splineBlock } from '../../src/colour/acesTonescale.ts';

export interface KernelCase {
  name: string;
  /** Runs a kernel over four planes of n floats; a returned number is compared too. */
  run(kernels: Kernels, heap: Heap, planes: number[], n: number): number | void;
}

/** Floats of every kind from a seed: ordinary, tiny, huge, negative, subnormal, zeros, infinities, NaN. */
export function awkwardFloats(seed: number, n: number): Float32Array {
  let state = seed * 2654435761;
  const next = () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return (state >>> 0) / 4294967296;
  };
  const special = [
    0,
    -0,
    1,
    -1,
    Infinity,
    -Infinity,
    NaN,
    1e-40,
    -1e-40,
    65504,
    65520,
    3e38,
    2 ** -24,
    0.18,
    0.0031308,
  ];
  return Float32Array.from({ length: n }, (_, i) => {
    if (i % 9 === 0) return special[Math.floor(next() * special.length)]!;
    const size = 10 ** (next() * 12 - 8);
    return next() < 0.25 ? -size : size;
  });
}

/** Finite, uneven numbers for tables. */
function ramp(n: number): number[] {
  return Array.from({ length: n }, (_, i) => Math.sqrt(i + 1) * (i % 3 === 0 ? 0.1 : 0.3) - 0.2);
}

export const kernelCases: KernelCase[] = [
  { name: 'halfToFloat', run: (k, _, [a, b], n) => k.halfToFloat(a!, b!, n) },
  { name: 'floatToHalf', run: (k, _, [a, b], n) => k.floatToHalf(a!, b!, n - 3) },
  { name: 'exp2Plane', run: (k, _, [a], n) => k.exp2Plane(a!, n) },
  { name: 'log2Plane', run: (k, _, [a], n) => k.log2Plane(a!, n) },
  { name: 'powPlane', run: (k, _, [a], n) => k.powPlane(a!, n, 2.4) },
  { name: 'powKeepPlane', run: (k, _, [a], n) => k.powKeepPlane(a!, n, 1.3) },
  { name: 'powMirrorPlane', run: (k, _, [a], n) => k.powMirrorPlane(a!, n, 1 / 2.2) },
  { name: 'tablePlane', run: (k, heap, [a], n) => k.tablePlane(a!, n, heap.placeFloats(ramp(17)), 17) },
  {
    name: 'curveTable',
    run: (k, heap, [a, b], n) => {
      // From 2^-4 to 4 in eight entries a doubling.
      const table = heap.placeFloats(ramp(6 * 8 + 2));
      k.curveTable(a!, n, table, 0x3d800000, 20, 0.0625, 4, 1, 1.7, 0.2);
      k.curveTable(b!, n, table, 0x3d800000, 20, 0.0625, 4, 0, -0.3, 0);
    },
  },
  { name: 'anyAbove', run: (k, _, [a], n) => k.anyAbove(a!, n, 3e38) + k.anyAbove(a!, 5, 3e38) * 2 },
  {
    name: 'cubeTetrahedral',
    run: (k, heap, [a, b, c], n) => k.cubeTetrahedral(a!, b!, c!, n, heap.placeFloats(ramp(5 ** 3 * 4)), 5),
  },
  {
    name: 'cubeTrilinear',
    run: (k, heap, [a, b, c], n) => k.cubeTrilinear(a!, b!, c!, n, heap.placeFloats(ramp(5 ** 3 * 4)), 5),
  },
  {
    name: 'matrix3',
    run: (k, heap, [a, b, c], n) =>
      k.matrix3(a!, b!, c!, n, heap.placeFloats([0.6, 0.3, 0.1, -0.2, 1.1, 0.1, 0.01, 0.02, 0.97])),
  },
  { name: 'scale3', run: (k, _, [a, b, c], n) => k.scale3(a!, b!, c!, n, 0.1, 2, -3) },
  { name: 'addScaled', run: (k, _, [a, b], n) => k.addScaled(a!, b!, n, -0.7) },
  { name: 'multiplyMixed', run: (k, _, [a, b], n) => k.multiplyMixed(a!, b!, n, 0.3) },
  { name: 'coverPremultiplied', run: (k, _, [a, b, c], n) => k.coverPremultiplied(a!, b!, c!, n, 0.9) },
  { name: 'divideOrZero', run: (k, _, [a, b], n) => k.divideOrZero(a!, b!, n) },
  { name: 'fillUncovered', run: (k, _, [a, b, c], n) => k.fillUncovered(a!, b!, c!, n) },
  { name: 'screenPlanes', run: (k, _, [a, b], n) => k.screenPlanes(a!, b!, n) },
  { name: 'maxPlanes', run: (k, _, [a, b], n) => k.maxPlanes(a!, b!, n) },
  { name: 'minPlanes', run: (k, _, [a, b], n) => k.minPlanes(a!, b!, n) },
  { name: 'copyPlane', run: (k, _, [a, b], n) => k.copyPlane(a!, b!, n) },
  { name: 'mixByMatte', run: (k, _, [a, b, c], n) => k.mixByMatte(a!, b!, c!, n, 0.7) },
  { name: 'keepFinite', run: (k, _, [a], n) => k.keepFinite(a!, n) },
  {
    name: 'filterRow',
    run: (k, heap, [a, b], n) =>
      k.filterRow(a!, b! + 20, n - 11, heap.placeFloats([0.4, 0.2, 0.07, 0.02, 0.01, 0.005]), 5),
  },
  {
    name: 'filterColumn',
    run: (k, heap, [a, b, c, d], n) => {
      const rows = heap.allocate(20);
      new Uint32Array(k.memory.buffer, rows, 5).set([b!, c!, d!, b!, c!]);
      k.filterColumn(a!, rows, n, heap.placeFloats([0.5, 0.2, 0.05]), 2);
    },
  },
  {
    name: 'layerPlaces, layersOfRow and layerShares',
    run: (k, heap, [a, b, c, d], n) => {
      const radii = heap.placeFloats([9, 4.5, 1.4, 0, -1.4, -9]);
      k.surfaceDepths(b!, b!, n, 1e9, 1, 1e-6);
      k.layerPlaces(a!, b!, n, 8, 3, 9, 1.5, radii, 6);
      const bounds = heap.allocate(8);
      k.layerShares(d!, a!, n, 2, bounds);
      k.layerShares(b!, a!, 8, 17, bounds);
      heap.floats(c!, 2).set(new Int32Array(k.memory.buffer as ArrayBuffer, bounds, 2));
      return k.layersOfRow(a!, n);
    },
  },
  {
    name: 'rowSums, spreadRow and layUnder',
    run: (k, heap, [a, b, c, d], n) => {
      // Four rows of 1,000, from pixel 20 to 987; spans that are alike above and below, and one that lies above alone.
      const [width, reach, rows] = [1000, 8, 4];
      const spans = heap.allocate(3 * 32);
      const words = new DataView(k.memory.buffer as ArrayBuffer, spans, 96);
      const span = (at: number, inner: number, outer: number, ...whole: number[]) => {
        words.setFloat64(at * 32, inner, true);
        words.setFloat64(at * 32 + 8, outer, true);
        whole.forEach((v, i) => words.setInt32(at * 32 + 16 + 4 * i, v, true));
      };
      span(0, 0.8, 0.3, 0, 5, 0);
      span(1, 0.7, 0.1, 1, 3, 1);
      span(2, 0.25, 0, -2, 0, 0);
      const sums = heap.allocate((width + 1 + 2 * reach) * 8) + reach * 8;
      const spread = [0, 1].map(() => heap.allocatePlane(rows * width));
      for (const [i, at] of spread.entries()) {
        k.fillPlane(at, rows * width, 0);
        for (let y = -1; y < 5; y++) {
          // Of what is no finite number nothing is taken; shares of 0 … 1 would do, any finite ones are summed alike.
          k.rowSums(sums, i === 0 ? b! : 0, c! + (y + 1) * 400, 20, 987, reach, width);
          k.spreadRow(at, width, rows, y, sums, 20, 987, spans, 3);
        }
      }
      k.layUnder(a!, spread[0]!, spread[1]!, c!, n - 3 - 2, 0.01);
      k.layUnder(d!, spread[1]!, spread[1]!, d!, n - 3 - 1, 1e-9);
      // What they hang on is told bit by bit as well.
      heap.floats(b!, n - 3).set(heap.floats(spread[0]!, n - 3));
    },
  },
  { name: 'coveredOr', run: (k, _, [a, b, c, d], n) => k.coveredOr(a!, b!, c!, d!, n, 1e-6) },
  { name: 'surfaceDepths', run: (k, _, [a, b], n) => k.surfaceDepths(a!, b!, n, 1e3, 0, -Infinity) },
  { name: 'exponentsOfDepth', run: (k, _, [a, b], n) => k.exponentsOfDepth(a!, b!, n, 0.5, 0.03) },
  { name: 'lostOfLeft', run: (k, _, [a, b], n) => k.lostOfLeft(a!, b!, n, 0.9, 1, 0.25) },
  {
    name: 'calmBytes, joinBytes and listZeros',
    run: (k, heap, [a, b, c, d], n) => {
      const [calm, near] = [heap.allocate(n), heap.allocate(n + 64)];
      k.calmBytes(calm, a!, b!, n, 0.5);
      heap.bytes(near, n + 64).fill(0);
      heap.bytes(near, n).set(heap.bytes(calm, n));
      k.joinBytes(near, Math.floor(n / 16) * 16, 1);
      k.joinBytes(near, Math.floor(n / 16) * 16, 33);
      heap.bytes(c!, n).set(heap.bytes(near, n));
      return k.listZeros(d!, near, n, 7);
    },
  },
  {
    name: 'rampPlane and falloffPlane',
    run: (k, _, [a, b, c, d], n) => {
      k.rampPlane(a!, n, -0.1, 0.7, 0);
      k.rampPlane(b!, n, 0.2, 0.7, 1);
      k.rampPlane(c!, n, 0.7, 0.7, 0);
      k.falloffPlane(d!, n, 0.4, 1);
    },
  },
  { name: 'rangePlane', run: (k, _, [a, b], n) => k.rangePlane(a!, b!, n, 0.2, 3, 0.1, 5, 1, 1e5) },
  { name: 'rangePlane between steps', run: (k, _, [a, b], n) => k.rangePlane(a!, b!, n, 0.2, 3, 0, 0, 0, Infinity) },
  { name: 'falloffPlane to a step', run: (k, _, [a], n) => k.falloffPlane(a!, n, 0, 0) },
  {
    name: 'sphereDistance',
    run: (k, heap, [a, b, c, d], n) => k.sphereDistance(a!, b!, c!, d!, n, heap.placeFloats([0.1, -2, 3, 1.5])),
  },
  {
    name: 'boxDistance',
    run: (k, heap, [a, b, c, d], n) => k.boxDistance(a!, b!, c!, d!, n, heap.placeFloats([0.1, -2, 3, 1.5, 4, 0.2])),
  },
  {
    name: 'planeDistance',
    run: (k, heap, [a, b, c, d], n) => k.planeDistance(a!, b!, c!, d!, n, heap.placeFloats([0.1, -2, 3, 0.6, 0, 0.8])),
  },
  {
    name: 'findSides',
    run: (k, heap, [a, b, c], n) => {
      // 60 rows of 66 pixels whose depth is one of a few, beside what they say of themselves alone.
      const [width, rows] = [66, 60];
      const [depth, calm] = [heap.floats(a!, width * rows), heap.allocate(width * rows)];
      for (let i = 0; i < depth.length; i++) depth[i] = [2, 2.1, 5, 9][(i * 7919) % 4]! + ((i * 31) % 5) * 0.2;
      const isCalm = heap.bytes(calm, width * rows);
      for (let i = 0; i < isCalm.length; i++) isCalm[i] = (i * 5101) % 7 === 0 ? 1 : 0;
      k.surfaceDepths(b!, a!, n, 1e9, 0, 0.5);
      const around = heap.allocate(200);
      new Int32Array(k.memory.buffer, around, 50).set(
        Array.from({ length: 25 }, (_, i) => [(i % 5) - 2, Math.floor(i / 5) - 2]).flat(),
      );
      const list = heap.allocate(900 * 4);
      new Int32Array(k.memory.buffer, list, 900).set(
        Array.from({ length: 900 }, (_, i) => (i * 4 + 3) % (width * rows)),
      );
      k.findSides(c!, list, 900, a!, calm, calm, width, b!, a!, width, width, rows, around, 25, 0.15);
    },
  },
  { name: 'mixTowards', run: (k, _, [a, b, c], n) => k.mixTowards(a!, b!, c!, n, 0.4) },
  { name: 'addNoise', run: (k, _, [a, b, c, d], n) => k.addNoise(a!, b!, c!, d!, 0.3, c!, 0.7, n) },
  { name: 'addNoise of its own alone', run: (k, _, [a, b, c, d], n) => k.addNoise(a!, b!, c!, d!, 0.3, 0, 0, n) },
  { name: 'noiseRow', run: (k, _, [a], n) => k.noiseRow(a!, n, -77777, 147.8) },
  { name: 'fillPlane', run: (k, _, [a], n) => k.fillPlane(a!, n, 0.1) },
  { name: 'multiplyPlanes', run: (k, _, [a, b], n) => k.multiplyPlanes(a!, b!, n) },
  { name: 'restorePlanes', run: (k, _, [a, b, c], n) => k.restorePlanes(a!, b!, c!, n) },
  { name: 'dividePlanes', run: (k, _, [a, b], n) => k.dividePlanes(a!, b!, n) },
  {
    name: 'encodeLog',
    run: (k, heap, [a], n) => k.encodeLog(a!, n, heap.placeFloats([0.01, 0.07, 1, 0.0087, 0.6, 5.6, 0.125])),
  },
  {
    name: 'decodeLog',
    run: (k, heap, [a], n) => k.decodeLog(a!, n, heap.placeFloats([0.181, 0.07, 1, 0.0087, 0.6, 5.6, 0.125])),
  },
  { name: 'encodePq', run: (k, _, [a], n) => k.encodePq(a!, n) },
  { name: 'decodePq', run: (k, _, [a], n) => k.decodePq(a!, n) },
  { name: 'encodeCurve', run: (k, _, [a], n) => k.encodeCurve(a!, n, 0.0031308, 12.92, 1.055, 1 / 2.4, 0.055) },
  { name: 'decodeCurve', run: (k, _, [a], n) => k.decodeCurve(a!, n, 0.04045, 12.92, 1.055, 2.4, 0.055) },
  { name: 'offsetPlane', run: (k, _, [a], n) => k.offsetPlane(a!, n, -0.02) },
  { name: 'clampPlane', run: (k, _, [a], n) => k.clampPlane(a!, n, 0, 1) },
  { name: 'acesGlowAndRed', run: (k, _, [a, b, c], n) => k.acesGlowAndRed(a!, b!, c!, n) },
  {
    name: 'aces2Forward',
    run: (k, heap, [a, b, c], n) => {
      const block = heap.placeFloats(renderingBlock(rendering(1000, rec2020)));
      k.aces2Forward(a!, b!, c!, n, block);
    },
  },
  {
    name: 'toneSpline',
    run: (k, heap, [a], n) => {
      const [first, second] = [splineBlock(rrtSpline), splineBlock(cinemaSpline())].map((s) => heap.placeFloats(s));
      k.toneSpline(a!, n, first!, second!);
    },
  },
  {
    name: 'surround',
    run: (k, heap, [a, b, c], n) => {
      const power = 0.9811 - 1;
      const key = JSON.stringify(['surround', power]);
      const { first, shift, low, high, entries } = curveTable(key, [-32, 4], { held: 0 }, heap, (p, count) =>
        k.powPlane(p, count, power),
      );
      const [block, at] = [heap.placeFloats([0.27, 0.67, 0.06, power, low, high]), heap.placeFloats(entries)];
      k.surround(a!, b!, c!, n, block, at, first, shift);
    },
  },
  { name: 'luminanceSum', run: (k, _, [a, b, c], n) => k.luminanceSum(a!, b!, c!, n, 0.27, 0.67, 0.06) },
  { name: 'averageSquares', run: (k, _, [a, b, c], n) => k.averageSquares(c!, a!, b!, (n >> 3) * 4) },
  { name: 'packCodes', run: (k, _, [a, b, c, d], n) => k.packCodes(a!, b!, c!, d!, n) },
];
