import type { ColourStep } from '../colour/steps.ts';
import { apart, eachChannel, saturationStep, scaleAndOffset } from './scale.ts';
import type { Direction, TransformOf } from './transform.ts';

/** x -> pivot · |x / pivot|^power with x's sign, per channel. */
function bendAbout(pivot: number, power: (c: 0 | 1 | 2) => number): ColourStep[] {
  if ([0, 1, 2].every((c) => power(c as 0 | 1 | 2) === 1)) return [];
  const k = 1 / pivot;
  return [
    scaleAndOffset([k, k, k], [0, 0, 0]),
    eachChannel((c) => ({ kind: 'power', exponent: power(c), negatives: 'mirror' })),
    scaleAndOffset([pivot, pivot, pivot], [0, 0, 0]),
  ];
}

/** A power about a black and a white pivot, mirrored below black. */
function bendBetween(black: number, white: number, power: (c: 0 | 1 | 2) => number): ColourStep[] {
  if ([0, 1, 2].every((c) => power(c as 0 | 1 | 2) === 1)) return [];
  const range = white - black;
  return [
    scaleAndOffset([1 / range, 1 / range, 1 / range], [-black / range, -black / range, -black / range]),
    eachChannel((c) => ({ kind: 'power', exponent: power(c), negatives: 'mirror' })),
    scaleAndOffset([range, range, range], [black, black, black]),
  ];
}

/** (x − pivot) · k + pivot, per channel. */
function scaleAbout(pivot: number, k: (c: 0 | 1 | 2) => number): ColourStep {
  return scaleAndOffset([k(0), k(1), k(2)], [pivot * (1 - k(0)), pivot * (1 - k(1)), pivot * (1 - k(2))]);
}

/**
 * The primary grade of the open config format: log (brightness, contrast, gamma), linear (offset, exposure, contrast) or
 * video (lift, gamma, gain, offset); then saturation and clamps. The inverse runs the same controls backwards.
 */
export function gradingPrimarySteps(t: TransformOf<'gradingPrimary'>, way: Direction): ColourStep[] {
  const turn = way === 'inverse';
  const v = t.values;
  const controls: ColourStep[][] = [];
  const each = (value: (c: 0 | 1 | 2) => number) => (c: 0 | 1 | 2) => (turn ? 1 / value(c) : value(c));
  const sign = turn ? -1 : 1;
  if (t.style === 'log') {
    // A brightness of 100 moves by a tenth of 625 of 1023 codes.
    const b = v.brightness.map((x) => (sign * x * 6.25) / 1023) as [number, number, number];
    controls.push([scaleAndOffset([1, 1, 1], b)]);
    controls.push([
      scaleAbout(
        0.5 + v.pivot * 0.5,
        each((c) => v.contrast[c]),
      ),
    ]);
    controls.push(
      bendBetween(
        v.pivotBlack,
        v.pivotWhite,
        each((c) => 1 / v.gamma[c]),
      ),
    );
  } else if (t.style === 'linear') {
    controls.push([scaleAndOffset([1, 1, 1], [sign * v.offset[0], sign * v.offset[1], sign * v.offset[2]])]);
    controls.push([
      scaleAbout(
        0,
        each((c) => 2 ** v.exposure[c]),
      ),
    ]);
    controls.push(
      bendAbout(
        0.18 * 2 ** v.pivot,
        each((c) => v.contrast[c]),
      ),
    );
  } else {
    const lift = [0, 1, 2].map((c) => sign * (v.offset[c]! + v.lift[c]!)) as [number, number, number];
    const gain = (c: 0 | 1 | 2) =>
      (v.pivotWhite - v.pivotBlack) / (v.pivotWhite / v.gain[c] + v.lift[c] - v.pivotBlack);
    controls.push([scaleAndOffset([1, 1, 1], lift)]);
    controls.push([scaleAbout(v.pivotBlack, each(gain))]);
    controls.push(
      bendBetween(
        v.pivotBlack,
        v.pivotWhite,
        each((c) => 1 / v.gamma[c]),
      ),
    );
  }
  if (v.saturation !== 1) controls.push([saturationStep(turn ? apart(1, v.saturation) : v.saturation)]);
  if (Number.isFinite(v.clampBlack) || Number.isFinite(v.clampWhite))
    controls.push([{ kind: 'clamp', low: v.clampBlack, high: v.clampWhite }]);
  return (turn ? controls.reverse() : controls).flat();
}
