import type { ColourStep } from '../colour/steps.ts';

/** What a pixel is warned of, the gravest first: a pixel is marked with the first that holds. */
export const warningKinds = ['notFinite', 'below', 'lut', 'gamut', 'above'] as const;
export type WarningKind = (typeof warningKinds)[number];

export interface WarningDefinition {
  readonly title: string;
  readonly says: string;
  readonly colour: readonly [number, number, number];
}

/** Colours differ in lightness as well as in hue; the list beside the picture has the figure of each. */
export const warnings: Readonly<Record<WarningKind, WarningDefinition>> = {
  notFinite: { title: 'Not finite', says: 'a channel is infinite or no number', colour: [255, 0, 220] },
  below: { title: 'Below 0', says: 'a channel of the working space is negative', colour: [20, 40, 190] },
  lut: {
    title: 'Cut off by a LUT',
    says: 'beyond what the first table of the view or look holds',
    colour: [250, 240, 60],
  },
  gamut: {
    title: 'Outside the display',
    says: 'cut off by the display: a channel of its light is below 0 or above its white',
    colour: [0, 150, 130],
  },
  above: { title: 'Above 1', says: 'a channel of the working space is above 1', colour: [255, 140, 70] },
};

export const warningBit = (kind: WarningKind): number => 1 << warningKinds.indexOf(kind);

/** Notes in `flags` what the numbers themselves are warned of. */
export function flagNumbers(planes: readonly Float32Array[], flags: Uint8Array): void {
  const [notFinite, below, above] = [warningBit('notFinite'), warningBit('below'), warningBit('above')];
  for (const plane of planes)
    for (let i = 0; i < flags.length; i++) {
      const v = plane[i]!;
      if (v - v !== 0) flags[i]! |= notFinite;
      else if (v < 0) flags[i]! |= below;
      else if (v > 1) flags[i]! |= above;
    }
}

/** A thousandth of the display's white is rounding, not clipping. */
const rounding = 1e-3;

/** Notes in `flags` the pixels that a display cuts off, of its light before it does. */
export function flagGamut(
  planes: readonly Float32Array[],
  [low, high]: readonly [number, number],
  flags: Uint8Array,
): void {
  const bit = warningBit('gamut');
  for (const plane of planes)
    for (let i = 0; i < flags.length; i++)
      if (plane[i]! < low - rounding || plane[i]! > high + rounding) flags[i]! |= bit;
}

/** Marks RGBA8 pixels with what they are warned of, of the kinds asked for, and counts each kind. */
export function markWarnings(
  rgba: Uint8Array,
  flags: Uint8Array,
  kinds: readonly WarningKind[],
  counts: number[],
): void {
  const asked = warningKinds.filter((k) => kinds.includes(k));
  const bits = asked.map(warningBit);
  const places = asked.map((k) => warningKinds.indexOf(k));
  for (let i = 0; i < flags.length; i++) {
    const flag = flags[i]!;
    if (flag === 0) continue;
    let marked = false;
    for (let k = 0; k < bits.length; k++) {
      if (!(flag & bits[k]!)) continue;
      counts[places[k]!]!++;
      if (!marked) rgba.set(warnings[asked[k]!].colour, 4 * i);
      marked = true;
    }
  }
}

/** Steps of a display that follow its clipping: they act on each channel by itself, and only encode. */
const encoding: ReadonlySet<ColourStep['kind']> = new Set(['encode', 'power', 'encodePq'] as const);

/** A view up to where its display cuts off, and between which values; undefined for one that cuts nothing off itself. */
export function beforeClipping(
  view: readonly ColourStep[],
): { readonly steps: readonly ColourStep[]; readonly ends: readonly [number, number] } | undefined {
  let found: { steps: readonly ColourStep[]; ends: readonly [number, number] } | undefined;
  for (let i = view.length - 1; i >= 0; i--) {
    const step = view[i]!;
    if (step.kind === 'clamp') found = { steps: view.slice(0, i), ends: [step.low, step.high] };
    else if (!encoding.has(step.kind)) break;
  }
  return found;
}
