import { Heap, kernels, mergeSteps, prepareSteps, type ColourStep } from '@june-haze/core';
import type { FramePlanes } from '../tern/frame.ts';

/** Passes of a frame by name: the channels before a dot, `beauty` for those without. */
export function passesOf(planes: FramePlanes): Map<string, Map<string, Float32Array>> {
  const passes = new Map<string, Map<string, Float32Array>>();
  for (const [channel, plane] of planes) {
    const dot = channel.lastIndexOf('.');
    const pass = dot < 0 ? 'beauty' : channel.slice(0, dot);
    passes.set(pass, (passes.get(pass) ?? new Map<string, Float32Array>()).set(channel.slice(dot + 1), plane));
  }
  return passes;
}

/** Passes of colour, which a change of space or of light touches; the others are data. */
export const isLight = (pass: string): boolean => !/^(depth|position|normal|crypto_object00|shadow)$/.test(pass);

/** Takes red, green and blue through steps, in place. */
export function throughSteps(channels: ReadonlyMap<string, Float32Array>, steps: readonly ColourStep[]): void {
  const heap = new Heap(kernels());
  const names = ['R', 'G', 'B'];
  const n = channels.get('R')!.length;
  const at = names.map((c) => {
    const pointer = heap.allocatePlane(n);
    heap.floats(pointer, n).set(channels.get(c)!);
    return pointer;
  }) as [number, number, number];
  prepareSteps(mergeSteps(steps), heap)(...at, n);
  names.forEach((c, i) => channels.get(c)!.set(heap.floats(at[i]!, n)));
}
