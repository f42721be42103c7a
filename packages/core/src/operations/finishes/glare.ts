import { exp2Exact } from '../../kernel/exactPower.ts';
import { number } from '../parameters.ts';
import { finish, type WholePicture } from '../finish.ts';
import { addSpread, keepAbove, saturate } from './brightLight.ts';

/** The shortest streak on the halved picture, in its pixels. */
const shortest = 24;
const halvingsMost = 4;
/** Samples of a pass along a streak, and how many passes: four times as far each, 64 samples in all. */
const samplesOfPass = 4;
const passes = 3;
/** What of a streak's light is left at its length: one hundredth. */
const left = Math.log2(0.01);

export const glare = finish({
  kind: 'glare',
  title: 'Glare',
  does: 'Very bright points draw streaks: T + amount · the light above a threshold, spread along so many directions and falling off exponentially. Its energy is kept; colour only, alpha stays.',
  published:
    'streaks by repeated sampling along a line, each pass four times as far: M. Kawase, Game Developers Conference 2003; the exponential falloff: common practice, no source',
  search: ['star', 'streak', 'flare', 'lens', 'diffraction', 'spikes'],
  parameters: {
    amount: number('Amount', 0.1, [0, 20], { soft: [0, 1] }),
    length: number('Length', 60, [2, 4000], { unit: 'px', soft: [4, 400], step: 1, scale: 'log' }),
    threshold: number('From', 4, [0, 1e5], { soft: [0, 32], step: 0.1 }),
    streaks: number('Streaks', 4, [1, 16], { step: 1 }),
    angle: number('Angle', 20, [0, 360], { unit: '°', step: 1, scale: 'angle' }),
    saturation: number('Colour of the streaks', 1, [0, 4], { soft: [0, 2] }),
  },
  nothing: ({ amount }) => amount === 0,
  reach: () => 0,
  whole: {
    by: ['length', 'threshold', 'streaks', 'angle', 'saturation'],
    halvings: ({ length }, level) =>
      Math.min(halvingsMost, Math.max(0, Math.floor(Math.log2(length / 2 ** level / shortest)))),
    gather: (heap, total, n, { threshold }, luminance) => keepAbove(heap, total, n, threshold, luminance),
    complete(_heap, whole, { length, streaks, angle, saturation }, level, luminance) {
      const own = length / 2 ** (level + whole.halved);
      const count = Math.round(streaks);
      for (const plane of whole.planes.slice(0, 3)) {
        const sum = new Float32Array(plane.length);
        for (let k = 0; k < count; k++) {
          const turn = ((angle + (360 * k) / count) * Math.PI) / 180;
          const streak = along(plane, whole, [Math.cos(turn), -Math.sin(turn)], own);
          for (let i = 0; i < sum.length; i++) sum[i] = sum[i]! + streak[i]! / count;
        }
        plane.set(sum);
      }
      saturate(whole.planes.slice(0, 3), saturation, luminance);
    },
  },
  run: (block) => addSpread(block, block.values.amount),
});

/** A plane spread to one side along a direction, by passes that sample back along it; outside the picture there is no light. */
function along(
  plane: Float32Array,
  { width, height }: WholePicture,
  [dx, dy]: readonly [number, number],
  length: number,
): Float32Array {
  // So much of a sample's light each pixel onwards, that a hundredth is left at the length.
  const all = samplesOfPass ** passes;
  const stride = Math.max(1, length / all);
  let from = plane;
  for (let pass = 0; pass < passes; pass++) {
    const step = samplesOfPass ** pass * stride;
    const weights = Array.from({ length: samplesOfPass }, (_, i) => exp2Exact((left * step * i) / length));
    const sum = weights.reduce((a, b) => a + b, 0);
    const to = new Float32Array(plane.length);
    for (let i = 0; i < samplesOfPass; i++)
      addShifted(to, from, width, height, -dx * step * i, -dy * step * i, weights[i]! / sum);
    from = to;
  }
  return from;
}

/** Adds a plane, seen from somewhere else by straight lines between its samples. */
function addShifted(
  to: Float32Array,
  from: Float32Array,
  width: number,
  height: number,
  right: number,
  down: number,
  weight: number,
): void {
  const [x0, y0] = [Math.floor(right), Math.floor(down)];
  const [fx, fy] = [right - x0, down - y0];
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : from[y * width + x]!);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = [x + x0, y + y0];
      if (u < -1 || v < -1 || u >= width || v >= height) continue;
      const upper = at(u, v) * (1 - fx) + at(u + 1, v) * fx;
      const lower = at(u, v + 1) * (1 - fx) + at(u + 1, v + 1) * fx;
      to[i] = to[i]! + weight * (upper * (1 - fy) + lower * fy);
    }
}
