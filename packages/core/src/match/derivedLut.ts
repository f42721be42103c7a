import { lutDisplay, type LutView } from '../config/lutViews.ts';
import { ShotColour, undoneName } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';
import { writeCube } from '../lut/write.ts';
import type { Transform } from '../transform/transform.ts';
import { throughSteps } from './candidates.ts';
import type { DerivedView } from './deriveView.ts';
import type { LightPicture } from './pictures.ts';

/** The log space that derived views take light in, and the space of that light. */
export const [derivedLog, derivedLight] = ['ACEScct', 'ACEScg'] as const;

/** A derived view as a show LUT: a cube from ACEScct to the view's codes. So other programs that know ACEScct can use it too. */
export const derivedLut = (view: DerivedView, title: string): string =>
  writeCube(title, view.size, view.codes, ['A view derived from a picture. Takes ACEScct and gives codes of sRGB.']);

/** How a show LUT is undone: how far light lies from where it was after the LUT and its way back. */
export interface Undoing {
  /** In stops, for 95 % of the colours that the LUT does not cut off. */
  readonly stops: number;
  /** The share of the colours that it does cut off: what they were is gone. */
  readonly cutOff: number;
}

/** So many pixels of a frame tell. */
const pixelsTried = 4000;
/** Codes so near to 0 or 1 are cut off. */
const nearEnd = 0.5 / 255;
/** ACEScct counts 17.52 stops to 1 (S-2016-001, clause 4.4). */
const stopsOfLog = 17.52;

/** Takes a frame's light, in `derivedLight`, through a show LUT that takes `derivedLog`, and back. */
export function undoingOf(transform: Transform, { width, height, planes }: LightPicture, heap: Heap): Undoing {
  const lut: LutView = { name: 'derived', from: derivedLog, encoding: 'srgb', transform };
  const colour = new ShotColour(undefined, new Map(), [], [lut]);
  const every = Math.max(1, Math.floor((width * height) / pixelsTried));
  const count = Math.floor((width * height) / every);
  const lightAt = (i: number) => [0, 1, 2].map((c) => planes[c]![i * every]!) as [number, number, number];
  const log = colour.conversion(derivedLight, derivedLog);
  const before = throughSteps(log, heap, count, lightAt);
  const view = { display: lutDisplay, view: lut.name, exposure: 0 };
  const codes = throughSteps(colour.view(derivedLight, view), heap, count, lightAt);
  const undone = colour.conversion(undoneName(lutDisplay, lut.name), derivedLog);
  const after = throughSteps(undone, heap, count, (i) => [codes[3 * i]!, codes[3 * i + 1]!, codes[3 * i + 2]!]);
  const off: number[] = [];
  for (let i = 0; i < count; i++) {
    const own = [0, 1, 2].map((c) => 3 * i + c);
    if (own.every((at) => codes[at]! > nearEnd && codes[at]! < 1 - nearEnd))
      off.push(stopsOfLog * Math.max(...own.map((at) => Math.abs(after[at]! - before[at]!))));
  }
  off.sort((a, b) => a - b);
  return { stops: off[Math.floor(0.95 * (off.length - 1))] ?? 0, cutOff: count ? 1 - off.length / count : 0 };
}
