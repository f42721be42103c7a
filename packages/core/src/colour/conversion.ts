import { bt1886Power, gammas, logCurves, rec709Curve, srgbCurve, type LogEncoding } from './curves.ts';
import { decode, encode } from '../transform/builtin/curves.ts';
import { hlgLight } from '../transform/builtin/displays.ts';
import { diagonal3 } from './matrix.ts';
import { primariesMatrix } from './primaries.ts';
import type { ColourSpace } from './spaces.ts';
import { mergeSteps } from './merge.ts';
import type { ColourStep } from './steps.ts';

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
    case 'g26':
      return [{ kind: 'power', exponent: gammas[space.encoding] }];
    case 'pq':
      return [{ kind: 'decodePq' }];
    case 'hlg':
      return hlgLight().decode;
    case 'acescc':
      return [decode('acescc')];
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
    case 'g26':
      return [{ kind: 'power', exponent: 1 / gammas[space.encoding] }];
    case 'pq':
      return [{ kind: 'encodePq' }];
    case 'hlg':
      return hlgLight().encode;
    case 'acescc':
      return [encode('acescc')];
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
