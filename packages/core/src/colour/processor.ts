import type { Heap } from '../kernel/heap.ts';
import { acesToneSplines } from './acesTonescale.ts';
import {
  bt1886Power,
  gammas,
  logCurves,
  rec709Curve,
  srgbCurve,
  type LogCurve,
  type LogEncoding,
  type StraightAndPower,
} from './curves.ts';
import { diagonal3, isIdentity3, multiply3, type Matrix3, type Vector3 } from './matrix.ts';
import { primariesMatrix } from './primaries.ts';
import type { ColourSpace } from './spaces.ts';

/** One step of a colour processor, over three planes. */
export type ColourStep =
  | { readonly kind: 'matrix'; readonly matrix: Matrix3 }
  | { readonly kind: 'encode' | 'decode'; readonly curve: StraightAndPower }
  | { readonly kind: 'power'; readonly exponent: number }
  | { readonly kind: 'encodeLog' | 'decodeLog'; readonly curve: LogCurve }
  | { readonly kind: 'encodePq' | 'decodePq' }
  | { readonly kind: 'offset'; readonly offset: number }
  | { readonly kind: 'clamp'; readonly low: number; readonly high: number }
  | { readonly kind: 'acesGlowAndRed' }
  | { readonly kind: 'acesTone' }
  | { readonly kind: 'surround'; readonly weights: Vector3; readonly exponent: number };

/** Merges neighbouring matrices (exact in float64) and drops those that do nothing. */
export function mergeSteps(steps: readonly ColourStep[]): ColourStep[] {
  const merged: ColourStep[] = [];
  for (const step of steps) {
    const last = merged.at(-1);
    if (step.kind === 'matrix' && last?.kind === 'matrix') {
      merged[merged.length - 1] = { kind: 'matrix', matrix: multiply3(step.matrix, last.matrix) };
    } else merged.push(step);
  }
  return merged.filter((s) => s.kind !== 'matrix' || !isIdentity3(s.matrix));
}

/** Steps from a space's numbers to linear light of its own primaries. */
export function decodeSteps(space: ColourSpace): ColourStep[] {
  switch (space.encoding) {
    case 'srgb':
      return [{ kind: 'decode', curve: srgbCurve }];
    case 'rec709':
      return [{ kind: 'decode', curve: rec709Curve }];
    case 'bt1886':
      return [{ kind: 'power', exponent: bt1886Power }];
    case 'g18':
    case 'g22':
      return [{ kind: 'power', exponent: gammas[space.encoding] }];
    case 'pq':
      return [{ kind: 'decodePq' }];
    case 'linear':
    case 'data':
      return [];
    default:
      return [{ kind: 'decodeLog', curve: logCurves[space.encoding satisfies LogEncoding] }];
  }
}

/** Steps from linear light of a space's primaries to its numbers. */
export function encodeSteps(space: ColourSpace): ColourStep[] {
  switch (space.encoding) {
    case 'srgb':
      return [{ kind: 'encode', curve: srgbCurve }];
    case 'rec709':
      return [{ kind: 'encode', curve: rec709Curve }];
    case 'bt1886':
      return [{ kind: 'power', exponent: 1 / bt1886Power }];
    case 'g18':
    case 'g22':
      return [{ kind: 'power', exponent: 1 / gammas[space.encoding] }];
    case 'pq':
      return [{ kind: 'encodePq' }];
    case 'linear':
    case 'data':
      return [];
    default:
      return [{ kind: 'encodeLog', curve: logCurves[space.encoding satisfies LogEncoding] }];
  }
}

/** Numbers of one space to numbers of another. Data is never converted: with Raw at either end there are no steps. */
export function conversion(from: ColourSpace, to: ColourSpace): ColourStep[] {
  if (from.name === to.name || from.encoding === 'data' || to.encoding === 'data') return [];
  return mergeSteps([
    ...decodeSteps(from),
    { kind: 'matrix', matrix: primariesMatrix(from.primaries, to.primaries) },
    ...encodeSteps(to),
  ]);
}

/** A gain on linear light, the same for each channel: 2^stops. */
export function exposureStep(stops: number): ColourStep {
  const gain = 2 ** stops;
  return { kind: 'matrix', matrix: diagonal3(gain, gain, gain) };
}

/** A processor whose constants lie in a heap, ready to run over planes of that heap. */
export type PreparedProcessor = (r: number, g: number, b: number, n: number) => void;

/** Places a processor's constants in the heap (they live until the caller releases its mark). */
export function prepareSteps(steps: readonly ColourStep[], heap: Heap): PreparedProcessor {
  const runs = steps.map((step) => prepareStep(step, heap));
  return (r, g, b, n) => {
    for (const run of runs) run(r, g, b, n);
  };
}

function prepareStep(step: ColourStep, heap: Heap): PreparedProcessor {
  const k = heap.kernels;
  switch (step.kind) {
    case 'matrix': {
      const at = heap.placeFloats(step.matrix);
      return (r, g, b, n) => k.matrix3(r, g, b, n, at);
    }
    case 'encode': {
      const { cutLinear, slope, scale, power, offset } = step.curve;
      return perPlane((p, n) => k.encodeCurve(p, n, cutLinear, slope, scale, 1 / power, offset));
    }
    case 'decode': {
      const { cutEncoded, slope, scale, power, offset } = step.curve;
      return perPlane((p, n) => k.decodeCurve(p, n, cutEncoded, slope, scale, power, offset));
    }
    case 'power':
      return perPlane((p, n) => k.powPlane(p, n, step.exponent));
    case 'encodeLog':
    case 'decodeLog': {
      const { cut, a, b, c, d, e, f } = step.curve;
      const encode = step.kind === 'encodeLog';
      const at = heap.placeFloats([encode ? cut : e * cut + f, a, b, c, d, e, f]);
      return perPlane(encode ? (p, n) => k.encodeLog(p, n, at) : (p, n) => k.decodeLog(p, n, at));
    }
    case 'encodePq':
      return perPlane((p, n) => k.encodePq(p, n));
    case 'decodePq':
      return perPlane((p, n) => k.decodePq(p, n));
    case 'offset':
      return perPlane((p, n) => k.offsetPlane(p, n, step.offset));
    case 'clamp':
      return perPlane((p, n) => k.clampPlane(p, n, step.low, step.high));
    case 'acesGlowAndRed':
      return (r, g, b, n) => k.acesGlowAndRed(r, g, b, n);
    case 'acesTone': {
      const [first, second] = acesToneSplines().map((s) => heap.placeFloats(s)) as [number, number];
      return perPlane((p, n) => k.toneSpline(p, n, first, second));
    }
    case 'surround': {
      const [wr, wg, wb] = step.weights;
      return (r, g, b, n) => k.surroundGamma(r, g, b, n, wr, wg, wb, step.exponent);
    }
  }
}

function perPlane(run: (plane: number, n: number) => void): PreparedProcessor {
  return (r, g, b, n) => {
    run(r, n);
    run(g, n);
    run(b, n);
  };
}
