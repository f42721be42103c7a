import type { CodeEncoding } from '../colour/displayCodes.ts';
import { apply3, identity3, type Matrix3 } from '../colour/matrix.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { Heap } from '../kernel/heap.ts';
import { deltaEOfCodes } from '../proof/ciede2000.ts';
import { type Figures } from '../proof/differences.ts';
import { throughSteps } from './candidates.ts';
import { fittedCube, throughCube, type CubeSamples } from './fittedCube.ts';
import { atRising, risingCurve, type RisingCurve } from './monotone.ts';
import type { CodePicture, LightPicture } from './pictures.ts';
import { register } from './register.ts';

/** A frame's light, in the working space, and the picture that the unknown view made of it. */
export interface ViewPair {
  readonly light: LightPicture;
  readonly picture: CodePicture;
}

/** A view made from pictures alone. */
export interface DerivedView {
  /** Nodes along each side. */
  readonly size: number;
  /** Codes 0 … 1 by node, red fastest, over the unit of the log space that light was brought to. */
  readonly codes: Float32Array;
  /** CIEDE2000 on fields of the pictures that a first fit did not see. */
  readonly unseen: Figures;
  /** CIEDE2000 of the matrix and curves alone, on all samples. */
  readonly curvesAlone: Figures;
  /** The share of the colours that the pictures' light could have, of which they show something: beyond, the view is drawn on. */
  readonly coverage: number;
  /** Light, as log numbers, beyond which nothing was seen, by channel. */
  readonly seenTo: readonly [number, number, number];
}

export const derivedSize = 33;
/** About so many pixels are fitted, and so many for the curves. */
const [fitted, fittedForCurves] = [60_000, 4000];
/** Fields of so many pixels are seen by the first fit, or not. */
const fieldSide = 16;

interface LogSamples extends CubeSamples {
  /** Light as it is, for the matrix. */
  readonly light: Float64Array;
  /** Whether the first fit sees them. */
  readonly first: Uint8Array;
}

/**
 * Derives a view: a matrix and a rising curve a channel first, which draw on where nothing was seen, then a cube behind a log space, bent to
 * what the pictures show and smooth elsewhere. `toLog` are steps from the light's numbers to the log space. Throws a RegistrationError for
 * pictures that do not lie on their frames.
 */
export function deriveView(
  pairs: readonly ViewPair[],
  toLog: readonly ColourStep[],
  encoding: CodeEncoding,
  heap: Heap,
): DerivedView {
  const samples = samplesOf(pairs, toLog, heap);
  const half = partOf(samples, (i) => samples.first[i] === 1);
  const others = partOf(samples, (i) => samples.first[i] === 0);
  const model = curvesOf(partOf(samples, everySo(samples.count, fittedForCurves)), toLog, heap);
  const prior = cubeOf(model, toLog, heap);
  const trial = fittedCube(prior, derivedSize, half).cube;
  const { cube, seen } = fittedCube(prior, derivedSize, samples);
  return {
    size: derivedSize,
    codes: cube.map((v) => Math.min(1, Math.max(0, v))),
    unseen: seenApart(throughCube(trial, derivedSize, others), others.values, encoding),
    curvesAlone: seenApart(throughCube(prior, derivedSize, samples), samples.values, encoding),
    ...coverageOf(samples, seen),
  };
}

const everySo = (count: number, most: number) => {
  const step = Math.max(1, Math.floor(count / most));
  return (i: number) => i % step === 0;
};

function samplesOf(pairs: readonly ViewPair[], toLog: readonly ColourStep[], heap: Heap): LogSamples {
  const light: number[] = [];
  const values: number[] = [];
  const first: number[] = [];
  for (const pair of pairs) {
    const on = register(pair.light, pair.picture);
    const { width, height } = on.picture;
    const step = Math.max(1, Math.floor(Math.sqrt((width * height * pairs.length) / fitted)));
    for (let y = 0; y < height; y += step)
      for (let x = 0; x < width; x += step) {
        const at = y * width + x;
        const own = on.light.planes.map((p) => p[at]!);
        if (!own.every(Number.isFinite)) continue;
        light.push(...own);
        values.push(...on.picture.planes.map((p) => p[at]!));
        first.push((Math.floor(x / fieldSide) + Math.floor(y / fieldSide)) % 2);
      }
  }
  const n = first.length;
  const places = throughSteps(toLog, heap, n, (i) => [light[3 * i]!, light[3 * i + 1]!, light[3 * i + 2]!]);
  return {
    count: n,
    light: Float64Array.from(light),
    places: Float64Array.from(places),
    values: Float64Array.from(values),
    first: Uint8Array.from(first),
  };
}

function partOf(samples: LogSamples, keep: (i: number) => boolean): LogSamples {
  const kept = Array.from({ length: samples.count }, (_, i) => i).filter(keep);
  const three = (of: Float64Array) =>
    Float64Array.from({ length: 3 * kept.length }, (_, i) => of[3 * kept[Math.floor(i / 3)]! + (i % 3)]!);
  return {
    count: kept.length,
    light: three(samples.light),
    places: three(samples.places),
    values: three(samples.values),
    first: Uint8Array.from(kept, (i) => samples.first[i]!),
  };
}

/** Light through a matrix, then each channel, as log, through a rising curve. */
interface CurveModel {
  readonly matrix: Matrix3;
  readonly curves: readonly RisingCurve[];
  readonly error: number;
}

/** Steps by which a matrix is bent, each smaller than the one before. */
const bendings = [0.12, 0.06, 0.03, 0.015];

/** The matrix (its rows sum to 1, so that greys stay grey) with which rising curves come nearest: one number after the other is tried. */
function curvesOf(samples: LogSamples, toLog: readonly ColourStep[], heap: Heap): CurveModel {
  let best = modelWith(identity3, samples, toLog, heap);
  for (const by of bendings)
    for (let again = true; again;) {
      again = false;
      for (let row = 0; row < 3; row++)
        for (const column of [(row + 1) % 3, (row + 2) % 3])
          for (const step of [by, -by]) {
            const matrix = [...best.matrix] as unknown as number[];
            matrix[3 * row + column]! += step;
            matrix[3 * row + row]! -= step;
            const next = modelWith(matrix as unknown as Matrix3, samples, toLog, heap);
            if (next.error >= best.error * 0.999) continue;
            best = next;
            again = true;
          }
    }
  return best;
}

function modelWith(
  matrix: Matrix3,
  { count, light, values }: LogSamples,
  toLog: readonly ColourStep[],
  heap: Heap,
): CurveModel {
  const mixed = throughSteps(toLog, heap, count, (i) =>
    apply3(matrix, [light[3 * i]!, light[3 * i + 1]!, light[3 * i + 2]!]),
  );
  let error = 0;
  const curves = [0, 1, 2].map((c) => {
    const [x, y] = [0, 1].map((k) =>
      Float64Array.from({ length: count }, (_, i) => (k ? values : mixed)[3 * i + c]!),
    ) as [Float64Array, Float64Array];
    const curve = risingCurve(x, y);
    for (let i = 0; i < count; i++) error += (atRising(curve, x[i]!) - y[i]!) ** 2;
    return curve;
  });
  return { matrix, curves, error };
}

/** The model at every node. The nodes' light comes from the log space by the way back of its steps, tabled: log spaces are curves of one channel. */
function cubeOf({ matrix, curves }: CurveModel, toLog: readonly ColourStep[], heap: Heap): Float32Array {
  const lights = lightOfNodes(toLog, heap);
  const nodes = derivedSize ** 3;
  const placeOf = (n: number) =>
    [n % derivedSize, Math.floor(n / derivedSize) % derivedSize, Math.floor(n / derivedSize ** 2)] as const;
  const mixed = throughSteps(toLog, heap, nodes, (n) => {
    const [r, g, b] = placeOf(n);
    return apply3(matrix, [lights[r]!, lights[g]!, lights[b]!]);
  });
  return Float32Array.from({ length: 3 * nodes }, (_, i) => atRising(curves[i % 3]!, mixed[i]!));
}

/** The grey light that each place along a side stands for, found by halving: the log space rises with light. */
function lightOfNodes(toLog: readonly ColourStep[], heap: Heap): number[] {
  let low = new Float64Array(derivedSize).fill(-0.05);
  let high = new Float64Array(derivedSize).fill(2 ** 12);
  for (let turn = 0; turn < 60; turn++) {
    const middle = low.map((l, i) => (l + high[i]!) / 2);
    const log = throughSteps(toLog, heap, derivedSize, (i) => [middle[i]!, middle[i]!, middle[i]!]);
    const below = (i: number) => log[3 * i + 1]! < i / (derivedSize - 1);
    [low, high] = [low.map((l, i) => (below(i) ? middle[i]! : l)), high.map((h, i) => (below(i) ? h : middle[i]!))];
  }
  return [...low].map((l, i) => (l + high[i]!) / 2);
}

function seenApart(made: Float64Array, wanted: Float64Array, encoding: CodeEncoding): Figures {
  const n = wanted.length / 3;
  const codes = (of: Float64Array) =>
    Uint8ClampedArray.from({ length: 4 * n }, (_, i) => (i % 4 === 3 ? 255 : 255 * of[3 * (i >> 2) + (i % 4)]!));
  const [a, b] = [codes(made), codes(wanted)];
  const all = Float64Array.from({ length: n }, (_, i) => deltaEOfCodes(a, b, 4 * i, encoding)).sort();
  const rank = (share: number) => all[Math.min(n - 1, Math.ceil(share * n) - 1)] ?? 0;
  return {
    mean: all.reduce((s, e) => s + e, 0) / Math.max(1, n),
    p95: rank(0.95),
    p99: rank(0.99),
    max: all.at(-1) ?? 0,
  };
}

/** Of the box of nodes that spans what was seen, the share with a sample beside them. */
function coverageOf({ places, count }: LogSamples, seen: Uint8Array): Pick<DerivedView, 'coverage' | 'seenTo'> {
  const [low, high] = [
    [1, 1, 1],
    [0, 0, 0],
  ];
  for (let i = 0; i < count; i++)
    for (let c = 0; c < 3; c++) {
      low[c] = Math.min(low[c]!, places[3 * i + c]!);
      high[c] = Math.max(high[c]!, places[3 * i + c]!);
    }
  const end = derivedSize - 1;
  const nodeOf = (v: number, up: boolean) => Math.min(end, Math.max(0, up ? Math.ceil(v * end) : Math.floor(v * end)));
  let [all, shown] = [0, 0];
  for (let b = nodeOf(low[2]!, false); b <= nodeOf(high[2]!, true); b++)
    for (let g = nodeOf(low[1]!, false); g <= nodeOf(high[1]!, true); g++)
      for (let r = nodeOf(low[0]!, false); r <= nodeOf(high[0]!, true); r++) {
        all++;
        shown += seen[r + derivedSize * (g + derivedSize * b)]!;
      }
  return { coverage: shown / Math.max(1, all), seenTo: high as unknown as [number, number, number] };
}
