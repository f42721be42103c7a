import {
  bending,
  changeColour,
  placeSamples,
  prepareSteps,
  type ColourStep,
  type Plane,
  type Quad,
} from '@june-haze/core';
import { threadHeap } from './evaluateFrame.ts';

/** Planes with the steps that they go through, in turn; each with its own rule of alpha. */
export interface Showing {
  readonly steps: readonly ColourStep[];
  /** How the colour relates to the fourth plane before these steps; left out, alpha does not matter to them. After them it is premultiplied. */
  readonly alpha?: 'premultiplied' | 'straight';
}

/** Three planes, and perhaps alpha, through colour steps to RGBA8 over black. */
export function show(planes: readonly Plane[], stages: readonly Showing[]): Uint8Array {
  const heap = threadHeap();
  const mark = heap.mark();
  const n = planes[0]!.length;
  const placed = planes.map((plane) => placeSamples(plane, plane instanceof Uint16Array ? 'half' : 'float', heap));
  const quad = [placed[0]!, placed[1]!, placed[2]!, placed[3] ?? 0] as const satisfies Quad;
  for (const { steps, alpha } of stages) {
    const process = prepareSteps(steps, heap);
    const how = { alpha: alpha !== undefined, isStraight: alpha === 'straight', bends: bending(steps) };
    changeColour(heap, quad, n, how, () => process(quad[0], quad[1], quad[2], n));
  }
  const codes = heap.allocate(n * 4);
  heap.kernels.packCodes(quad[0], quad[1], quad[2], codes, n);
  const out = heap.bytes(codes, n * 4).slice();
  heap.release(mark);
  return out;
}
