import type { LogCurve } from '../colour/curves.ts';
import { invert3, type Matrix3, type Vector3 } from '../colour/matrix.ts';
import type { ColourStep, PlaneStep } from '../colour/steps.ts';
import { ColourFileError } from '../config/place.ts';
import { curveOfGammaAndOffset } from './curve.ts';
import { exposureContrastSteps } from './exposureContrast.ts';
import { fixedFunctionSteps } from './fixedFunction.ts';
import { gradingCurveSteps } from './gradingCurve.ts';
import { gradingPrimarySteps } from './gradingPrimary.ts';
import { gradingToneSteps } from './gradingTone.ts';
import { eachChannel, fit, saturationStep, scaleAndOffset } from './scale.ts';
import { table1dSteps } from './table1d.ts';
import { table3dSteps } from './table3d.ts';
import { combine, type Direction, type Transform, type TransformOf } from './transform.ts';

/** Transforms that stand for themselves: no names to look up. */
export type SelfContained = Exclude<
  Transform,
  { type: 'group' | 'file' | 'space' | 'look' | 'displayView' | 'builtin' }
>;

/** Steps of one self-contained transform. Throws a ColourFileError when its numbers make no transform. */
export function transformSteps(transform: SelfContained, direction: Direction): ColourStep[] {
  const way = combine(transform.direction, direction);
  switch (transform.type) {
    case 'matrix':
      return [matrixStep(transform, way)];
    case 'exponent':
      return exponentSteps(transform, way);
    case 'exponentWithLinear':
      return exponentWithLinearSteps(transform, way);
    case 'log':
      return logSteps(transform, way);
    case 'range':
      return rangeSteps(transform, way);
    case 'cdl':
      return cdlSteps(transform, way);
    case 'allocation':
      return allocationSteps(transform, way);
    case 'lut1d':
      return table1dSteps(transform.table, way);
    case 'lut3d':
      return table3dSteps(transform.table, transform.interpolation, way, transform.place);
    case 'fixedFunction':
      return fixedFunctionSteps(transform, way);
    case 'exposureContrast':
      return exposureContrastSteps(transform, way);
    case 'gradingPrimary':
      return gradingPrimarySteps(transform, way);
    case 'gradingCurve':
      return gradingCurveSteps(transform, way);
    case 'gradingTone':
      return gradingToneSteps(transform, way);
  }
}

export function matrixStep({ matrix, offset, place }: TransformOf<'matrix'>, way: Direction): ColourStep {
  if (way === 'forward')
    return offset.every((x) => x === 0) ? { kind: 'matrix', matrix } : { kind: 'matrix', matrix, offset };
  let turned: Matrix3;
  try {
    turned = invert3(matrix);
  } catch {
    throw new ColourFileError('the matrix has no inverse.', place);
  }
  if (offset.every((x) => x === 0)) return { kind: 'matrix', matrix: turned };
  const back = [0, 3, 6].map(
    (row) => -(turned[row]! * offset[0] + turned[row + 1]! * offset[1] + turned[row + 2]! * offset[2]),
  );
  return { kind: 'matrix', matrix: turned, offset: back as unknown as Vector3 };
}

const same = (v: Vector3) => v[0] === v[1] && v[1] === v[2];

function exponentSteps({ value, negatives, place }: TransformOf<'exponent'>, way: Direction): ColourStep[] {
  if (value.some((v) => !(v >= 0.01 && v <= 100)))
    throw new ColourFileError(`the exponent ${value.join(', ')} must lie between 0.01 and 100.`, place);
  const style = negatives === 'clamp' ? 'zero' : negatives === 'mirror' ? 'mirror' : 'keep';
  if (style !== 'zero' && value.every((v) => v === 1)) return [];
  const step = (c: 0 | 1 | 2): PlaneStep => ({
    kind: 'power',
    exponent: way === 'forward' ? value[c] : 1 / value[c],
    negatives: style,
  });
  return same(value) ? [step(0)] : [eachChannel(step)];
}

function exponentWithLinearSteps(t: TransformOf<'exponentWithLinear'>, way: Direction): ColourStep[] {
  const { gamma, offset, negatives, place } = t;
  if (gamma.some((g) => !(g >= 1 && g <= 10)) || offset.some((o) => !(o >= 0 && o <= 0.9)))
    throw new ColourFileError('gamma must lie between 1 and 10 and offset between 0 and 0.9.', place);
  const kind = way === 'forward' ? 'decode' : 'encode';
  const step = (c: 0 | 1 | 2): PlaneStep => {
    const curve = curveOfGammaAndOffset(gamma[c], offset[c]);
    return { kind, curve, mirrored: negatives === 'mirror' };
  };
  return same(gamma) && same(offset) ? [step(0)] : [eachChannel(step)];
}

const ln2 = Math.LN2;

/** The parameters of a log step, as curves of the kind a · log2(b · x + c) + d with a straight part e · x + f. */
export function logSteps(t: TransformOf<'log'>, way: Direction): ColourStep[] {
  const { base, place } = t;
  if (!(base > 0) || base === 1)
    throw new ColourFileError(`the logarithm's base ${base} must be above 0 and not 1.`, place);
  const kind = way === 'forward' ? 'encodeLog' : 'decodeLog';
  const step = (c: 0 | 1 | 2): PlaneStep => ({ kind, curve: logCurve(t, c) });
  const vectors = [t.linSlope, t.linOffset, t.logSlope, t.logOffset, t.linBreak, t.linearSlope];
  return vectors.every((v) => !v || same(v)) ? [step(0)] : [eachChannel(step)];
}

function logCurve(t: TransformOf<'log'>, c: 0 | 1 | 2): LogCurve {
  const perDoubling = ln2 / Math.log(t.base);
  const [b, offset, a, d] = [t.linSlope[c], t.linOffset[c], t.logSlope[c] * perDoubling, t.logOffset[c]];
  if (a === 0 || b === 0) throw new ColourFileError('a slope of a logarithm must not be 0.', t.place);
  // Without a straight part the cut lies below everything; e only has to be a number one can divide by.
  if (!t.linBreak) return { cut: -Infinity, a, b, c: offset, d, e: 1, f: 0 };
  const cut = t.linBreak[c];
  const inner = b * cut + offset;
  const slope = t.linearSlope?.[c] ?? (t.logSlope[c] * b) / (inner * Math.log(t.base));
  const atBreak = a * Math.log2(inner) + d;
  return { cut, a, b, c: offset, d, e: slope, f: atBreak - slope * cut };
}

/** Checks a range's four ends and gives scale, offset and limits. */
function rangeSteps(t: TransformOf<'range'>, way: Direction): ColourStep[] {
  const turn = way === 'inverse';
  const [inLow, inHigh, outLow, outHigh] = turn
    ? [t.outLow, t.outHigh, t.inLow, t.inHigh]
    : [t.inLow, t.inHigh, t.outLow, t.outHigh];
  if ((inLow === undefined) !== (outLow === undefined) || (inHigh === undefined) !== (outHigh === undefined))
    throw new ColourFileError('a range needs the in value and the out value of an end together.', t.place);
  const both = inLow !== undefined && inHigh !== undefined;
  if (!both && !t.clamp) throw new ColourFileError('a range that does not clamp needs both ends.', t.place);
  if (inLow === undefined && inHigh === undefined)
    throw new ColourFileError('a range needs at least one end.', t.place);
  if (both && !(inHigh > inLow))
    throw new ColourFileError("the range's upper end must lie above its lower one.", t.place);
  if (!both && inLow !== outLow)
    throw new ColourFileError('a range with one end needs the same value in and out.', t.place);
  if (!both && inHigh !== outHigh)
    throw new ColourFileError('a range with one end needs the same value in and out.', t.place);
  const scale = both ? (outHigh! - outLow!) / (inHigh - inLow) : 1;
  const shift = inLow !== undefined ? outLow! - scale * inLow : outHigh! - scale * inHigh!;
  const steps = [scaleAndOffset([scale, scale, scale], [shift, shift, shift])];
  if (t.clamp) steps.push({ kind: 'clamp', low: outLow ?? -Infinity, high: outHigh ?? Infinity });
  return steps;
}

/** ASC CDL 1.2: slope, offset, power, then saturation. Without clamping, the power leaves negatives as they are. */
function cdlSteps(t: TransformOf<'cdl'>, way: Direction): ColourStep[] {
  const { slope, offset, power, saturation, clamp, place } = t;
  if (slope.some((s) => s < 0) || power.some((p) => !(p > 0)) || saturation < 0)
    throw new ColourFileError('a CDL needs slope and saturation of 0 or more and a power above 0.', place);
  const limit: ColourStep[] = clamp ? [{ kind: 'clamp', low: 0, high: 1 }] : [];
  const turn = way === 'inverse';
  if (turn && (slope.some((s) => s === 0) || saturation === 0))
    throw new ColourFileError('a CDL with a slope or saturation of 0 has no inverse.', place);
  const powers: ColourStep[] = power.every((p) => p === 1)
    ? []
    : [
        eachChannel((c) => ({
          kind: 'power',
          exponent: turn ? 1 / power[c] : power[c],
          negatives: t.powerCutsNegatives ? 'zero' : 'keep',
        })),
      ];
  const saturate = saturation === 1 ? [] : [saturationStep(turn ? 1 / saturation : saturation)];
  if (!turn) return [scaleAndOffset(slope, offset), ...limit, ...powers, ...saturate, ...limit];
  const back = scaleAndOffset(
    [1 / slope[0], 1 / slope[1], 1 / slope[2]],
    [-offset[0] / slope[0], -offset[1] / slope[1], -offset[2] / slope[2]],
  );
  return [...limit, ...saturate, ...limit, ...powers, back, ...limit];
}

function allocationSteps(t: TransformOf<'allocation'>, way: Direction): ColourStep[] {
  const [low, high, offset] = [t.variables[0] ?? 0, t.variables[1] ?? 1, t.variables[2] ?? 0];
  if (high === low) throw new ColourFileError('an allocation needs two different ends.', t.place);
  const spread = fit(low, high);
  const widen = scaleAndOffset([high - low, high - low, high - low], [low, low, low]);
  if (t.allocation === 'uniform') return t.variables.length < 2 ? [] : [way === 'forward' ? spread : widen];
  const curve: LogCurve = { cut: -Infinity, a: 1, b: 1, c: offset, d: 0, e: 1, f: 0 };
  return way === 'forward' ? [{ kind: 'encodeLog', curve }, spread] : [widen, { kind: 'decodeLog', curve }];
}
