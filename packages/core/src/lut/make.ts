import type { Vector3 } from '../colour/matrix.ts';
import { diagonal3 } from '../colour/matrix.ts';
import type { Transform } from '../transform/transform.ts';

/** A group that runs forward. */
export function group(children: readonly Transform[]): Transform {
  return { type: 'group', direction: 'forward', children };
}

/** Low … high of each channel to 0 … 1; nothing when it is that already. */
export function fitDomain(low: Vector3, high: Vector3): Transform[] {
  if (low.every((x) => x === 0) && high.every((x) => x === 1)) return [];
  const k = low.map((l, c) => 1 / (high[c]! - l)) as [number, number, number];
  return [
    {
      type: 'matrix',
      direction: 'forward',
      matrix: diagonal3(k[0], k[1], k[2]),
      offset: [-low[0] * k[0], -low[1] * k[1], -low[2] * k[2]],
    },
  ];
}

/** A 1D table from rows of one or three values. */
export function table1d(channels: readonly [Float32Array, Float32Array, Float32Array]): Transform {
  return {
    type: 'lut1d',
    direction: 'forward',
    table: { channels, halfDomain: false, hueAdjust: false },
  };
}

/** A cube; `blueFastest` says how the values lie. How it is read between points is left to who uses it. */
export function cube(size: number, values: Float32Array, blueFastest: boolean): Transform {
  return {
    type: 'lut3d',
    direction: 'forward',
    table: { size, values: blueFastest ? redFastest(size, values) : values },
    interpolation: undefined,
  };
}

/** Reorders a cube written with blue fastest. */
export function redFastest(size: number, values: Float32Array): Float32Array {
  const out = new Float32Array(values.length);
  for (let r = 0, from = 0; r < size; r++) {
    for (let g = 0; g < size; g++) {
      for (let b = 0; b < size; b++, from += 3) {
        const to = ((b * size + g) * size + r) * 3;
        out[to] = values[from]!;
        out[to + 1] = values[from + 1]!;
        out[to + 2] = values[from + 2]!;
      }
    }
  }
  return out;
}
