import type { Plane } from '../exr/read.ts';
import { halfToNumber, numberToHalf } from './half.ts';

/** A picture's side at a level: level 0 is full size, each level halves, rounding up. */
export function sideAtLevel(side: number, level: number): number {
  return Math.ceil(side / 2 ** level);
}

/** A part of a picture at a level: every pixel that something of it lies in. */
export function windowAtLevel(window: Window, level: number): Window {
  const side = 2 ** level;
  const [x, y] = [Math.floor(window.x / side), Math.floor(window.y / side)];
  const [right, bottom] = [Math.ceil((window.x + window.width) / side), Math.ceil((window.y + window.height) / side)];
  return { x, y, width: right - x, height: bottom - y };
}

/** Part of a picture, in its pixels. */
export interface Window {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

let widened: Float32Array | undefined;

/** All halves as floats, for steps that are not hot. */
function halfTable(): Float32Array {
  widened ??= Float32Array.from({ length: 65536 }, (_, h) => halfToNumber(h));
  return widened;
}

/**
 * Halves a plane's size once. Colour is averaged over 2x2 (at odd edges over what is there); data takes the upper left
 * sample, since an average of IDs or depths means nothing.
 */
export function halvePlane<T extends Plane>(plane: T, width: number, height: number, data: boolean): T {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = new (plane.constructor as new (n: number) => T)(w * h);
  const table = plane instanceof Uint16Array ? halfTable() : undefined;
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    const below = Math.min(2 * y + 1, height - 1) * width;
    for (let x = 0; x < w; x++) {
      const left = 2 * x;
      const right = Math.min(left + 1, width - 1);
      if (data) {
        out[y * w + x] = plane[top + left]!;
      } else if (table) {
        const sum =
          table[plane[top + left]!]! +
          table[plane[top + right]!]! +
          table[plane[below + left]!]! +
          table[plane[below + right]!]!;
        out[y * w + x] = numberToHalf(sum / 4);
      } else {
        out[y * w + x] = (plane[top + left]! + plane[top + right]! + plane[below + left]! + plane[below + right]!) / 4;
      }
    }
  }
  return out;
}
