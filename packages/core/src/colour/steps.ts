import type { ToneSpline } from './acesTonescale.ts';
import type { LogCurve, StraightAndPower } from './curves.ts';
import type { PixelRecipe, PlaneRecipe } from '../transform/recipes.ts';
import type { Primaries } from './primaries.ts';
import { apply3, isIdentity3, multiply3, type Matrix3, type Vector3 } from './matrix.ts';

/** A step over one plane. */
export type PlaneStep =
  /** Mirrored: the curve on |x|, the sign kept; otherwise straight on below 0. */
  | { readonly kind: 'encode' | 'decode'; readonly curve: StraightAndPower; readonly mirrored?: boolean }
  /** x^exponent; what happens below 0: cut off at 0, kept as it is, or mirrored. */
  | { readonly kind: 'power'; readonly exponent: number; readonly negatives?: 'zero' | 'keep' | 'mirror' }
  | { readonly kind: 'encodeLog' | 'decodeLog'; readonly curve: LogCurve }
  | { readonly kind: 'encodePq' | 'decodePq' }
  | { readonly kind: 'clamp'; readonly low: number; readonly high: number }
  /** A table over 0 … 1, linear between entries, its ends held. */
  | { readonly kind: 'table'; readonly table: Float32Array }
  /** A step without a kernel, described so that it can travel; see transform/plain.ts. */
  | { readonly kind: 'plainPlane'; readonly recipe: PlaneRecipe };

/** One step of a colour processor, over three planes. */
export type ColourStep =
  | { readonly kind: 'matrix'; readonly matrix: Matrix3; readonly offset?: Vector3 }
  | PlaneStep
  | { readonly kind: 'channels'; readonly each: readonly [PlaneStep, PlaneStep, PlaneStep] }
  | {
      readonly kind: 'cube';
      readonly size: number;
      /** RGB triples, red fastest. */
      readonly values: Float32Array;
      readonly interpolation: 'linear' | 'tetrahedral';
    }
  | { readonly kind: 'acesGlowAndRed' }
  /** The ACES 2 rendering, forward: ACES2065-1 to light of the limiting primaries, 1 = 100 cd/m², for a display's peak in cd/m². */
  | { readonly kind: 'aces2'; readonly peak: number; readonly limiting: Primaries }
  /** Two tone scales, one after the other, on log10 of the value. */
  | { readonly kind: 'tone'; readonly splines: readonly [ToneSpline, ToneSpline] }
  | { readonly kind: 'surround'; readonly weights: Vector3; readonly exponent: number }
  | { readonly kind: 'plain'; readonly recipe: PixelRecipe };

/**
 * Shortens a list of steps where it is exact: neighbouring matrices become one (in float64), what does nothing is dropped, and a step
 * followed by the one that undoes it goes, but for the clamp that the pair amounts to. Tables stay: they cut off at their ends.
 */
export function mergeSteps(steps: readonly ColourStep[]): ColourStep[] {
  const merged: ColourStep[] = [];
  const push = (step: ColourStep): void => {
    const last = merged.at(-1);
    if (step.kind === 'matrix' && last?.kind === 'matrix') {
      merged.pop();
      push(multiplySteps(step, last));
      return;
    }
    if (step.kind === 'matrix' && isIdentity3(step.matrix) && !step.offset?.some((x) => x !== 0)) return;
    const left = last && remains(last, step);
    if (!left) {
      merged.push(step);
      return;
    }
    merged.pop();
    left.forEach(push);
  };
  steps.forEach(push);
  return merged;
}

const nothing: readonly ColourStep[] = [];

/** What is left of a step and the next one when the second undoes the first; undefined when it does not. */
function remains(first: ColourStep, second: ColourStep): readonly ColourStep[] | undefined {
  switch (second.kind) {
    case 'encode':
    case 'decode': {
      const other = second.kind === 'encode' ? 'decode' : 'encode';
      if (first.kind !== other || first.mirrored !== second.mirrored) return undefined;
      return sameNumbers(first.curve, second.curve) ? nothing : undefined;
    }
    case 'encodeLog':
    case 'decodeLog': {
      const other = second.kind === 'encodeLog' ? 'decodeLog' : 'encodeLog';
      return first.kind === other && sameNumbers(first.curve, second.curve) ? nothing : undefined;
    }
    case 'power': {
      const undoes =
        first.kind === 'power' &&
        first.negatives === second.negatives &&
        Math.abs(first.exponent * second.exponent - 1) < 1e-12;
      if (!undoes) return undefined;
      return second.negatives === 'keep' || second.negatives === 'mirror'
        ? nothing
        : [{ kind: 'clamp', low: 0, high: Infinity }];
    }
    case 'channels':
      return first.kind === 'channels' ? channelsRemain(first.each, second.each) : undefined;
    default:
      return undefined;
  }
}

type Channels = Extract<ColourStep, { kind: 'channels' }>['each'];

/** Pairs in all three channels must leave the same. */
function channelsRemain(first: Channels, second: Channels): readonly ColourStep[] | undefined {
  const left = first.map((step, c) => remains(step, second[c]!));
  const [r] = left;
  return r && left.every((l) => l && JSON.stringify(l) === JSON.stringify(r)) ? r : undefined;
}

function sameNumbers(a: object, b: object): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

type MatrixStep = Extract<ColourStep, { kind: 'matrix' }>;

function multiplySteps(second: MatrixStep, first: MatrixStep): MatrixStep {
  const matrix = multiply3(second.matrix, first.matrix);
  if (!second.offset && !first.offset) return { kind: 'matrix', matrix };
  const carried = apply3(second.matrix, first.offset ?? [0, 0, 0]);
  const own = second.offset ?? [0, 0, 0];
  const offset: Vector3 = [carried[0] + own[0], carried[1] + own[1], carried[2] + own[2]];
  return offset.every((x) => Math.abs(x) < 1e-12) ? { kind: 'matrix', matrix } : { kind: 'matrix', matrix, offset };
}

/** Whether steps are a linear map without offset: what a working space's way to the reference must be. */
export function isLinearMap(steps: readonly ColourStep[]): boolean {
  return mergeSteps(steps).every((s) => s.kind === 'matrix' && !s.offset);
}
