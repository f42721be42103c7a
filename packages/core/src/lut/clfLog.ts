import type { Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import type { Direction, Transform, TransformOf } from '../transform/transform.ts';
import { ones, perChannel, zeros, type ClfNode } from './clfNode.ts';
import type { Element } from './xml.ts';

/** A Log node: plain logarithms, the two-sided styles of version 3, and the film scan styles of old .ctf files. */
export function readLog({ element, style }: ClfNode): Transform {
  const name = style.toLowerCase();
  const plain = /^(anti)?log(2|10)$/.exec(name);
  if (plain)
    return {
      type: 'log',
      direction: plain[1] ? 'inverse' : 'forward',
      base: Number(plain[2]),
      linSlope: ones,
      linOffset: zeros,
      logSlope: ones,
      logOffset: zeros,
    };
  const match = /^(camera)?(lintolog|logtolin)$/.exec(name);
  if (!match) throw new ColourFileError(`the log style "${style}" is not known.`, element.place, 'unsupported');
  const parameters = element.children.filter((c) => c.name === 'LogParams');
  const direction: Direction = match[2] === 'lintolog' ? 'forward' : 'inverse';
  if (parameters.some((p) => 'gamma' in p.attributes || 'refWhite' in p.attributes))
    return { ...filmScanLog(parameters, element), direction };
  const linBreak = perChannel(parameters, 'linSideBreak', undefined);
  if (match[1] && !linBreak) throw new ColourFileError(`the log style "${style}" needs linSideBreak.`, element.place);
  if (!match[1] && parameters.some((p) => 'linSideBreak' in p.attributes))
    throw new ColourFileError(`the log style "${style}" has no linSideBreak.`, element.place);
  const base = parameters.map((p) => p.attributes['base']).find((b) => b !== undefined);
  return {
    type: 'log',
    direction,
    base: Number(base ?? 2),
    linSlope: perChannel(parameters, 'linSideSlope', 1)!,
    linOffset: perChannel(parameters, 'linSideOffset', 0)!,
    logSlope: perChannel(parameters, 'logSideSlope', 1)!,
    logOffset: perChannel(parameters, 'logSideOffset', 0)!,
    linBreak: match[1] ? linBreak : undefined,
    linearSlope: match[1] ? perChannel(parameters, 'linearSlope', undefined) : undefined,
  };
}

/** Density of a printing step of 0.002 a code, over 1023 codes: the scale of 10-bit film scans. */
const densityRange = 0.002 * 1023;

/**
 * The film scan style: gamma, reference white and black (10-bit codes), highlight and shadow (light). Light =
 * gain · (10^((code − white) / 1023 · range / gamma) − 1) + highlight, with the gain that gives black the shadow. As in the reference library.
 */
function filmScanLog(parameters: readonly Element[], element: Element): TransformOf<'log'> {
  const of = (key: string): Vector3 => {
    const value = perChannel(parameters, key, undefined);
    if (!value) throw new ColourFileError(`a film scan log needs ${key}.`, element.place);
    return value;
  };
  const [gamma, white, black] = [of('gamma'), of('refWhite'), of('refBlack')];
  const [highlight, shadow] = [of('highlight'), of('shadow')];
  const each = (f: (c: 0 | 1 | 2) => number): Vector3 => [f(0), f(1), f(2)];
  const bad = ([0, 1, 2] as const).some((c) => !(gamma[c] > 0.01 && white[c] > black[c] && highlight[c] > shadow[c]));
  if (bad)
    throw new ColourFileError(
      'a film scan log needs a gamma above 0.01, white above black and highlight above shadow.',
      element.place,
    );
  const gain = each((c) => {
    const span = Math.min(((black[c] - white[c]) / 1023) * (densityRange / gamma[c]), -0.0001);
    return (highlight[c] - shadow[c]) / (1 - 10 ** span);
  });
  return {
    type: 'log',
    direction: 'forward',
    base: 10,
    linSlope: each((c) => 1 / gain[c]),
    linOffset: each((c) => (gain[c] - highlight[c]) / gain[c]),
    logSlope: each((c) => gamma[c] / densityRange),
    logOffset: each((c) => white[c] / 1023),
  };
}
