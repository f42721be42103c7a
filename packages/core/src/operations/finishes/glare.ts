import type { Heap } from '../../kernel/heap.ts';
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
    complete(heap, whole, { length, streaks, angle, saturation }, level, luminance) {
      const own = length / 2 ** (level + whole.halved);
      const count = Math.round(streaks);
      const turns = Array.from({ length: count }, (_, k) => ((angle + (360 * k) / count) * Math.PI) / 180);
      for (const plane of whole.planes.slice(0, 3)) drawStreaks(heap, plane, whole, turns, own);
      saturate(whole.planes.slice(0, 3), saturation, luminance);
    },
  },
  run: (block) => addSpread(block, block.values.amount),
});

/** Puts the mean of a plane's streaks along some directions in its place. */
function drawStreaks(
  heap: Heap,
  plane: Float32Array,
  { width, height }: WholePicture,
  turns: readonly number[],
  length: number,
): void {
  const size = { width, height, across: width + borderLeft + borderRight };
  const samples = size.across * (height + 2);
  const mark = heap.mark();
  const [light, sum, one, other] = [0, 1, 2, 3].map(() => heap.allocatePlane(samples)) as [
    number,
    number,
    number,
    number,
  ];
  const line = heap.allocatePlane(width + 4);
  const rowOf = (of: number, y: number) => heap.floats(of + 4 * ((y + 1) * size.across + borderLeft), width);
  // Borders stay dark.
  for (const p of [light, sum, one, other]) heap.kernels.fillPlane(p, samples, 0);
  for (let y = 0; y < height; y++) rowOf(light, y).set(plane.subarray(y * width, (y + 1) * width));
  for (const turn of turns) {
    const direction = [Math.cos(turn), -Math.sin(turn)] as const;
    const streak = along(heap, { light, one, other, line }, size, direction, length);
    heap.kernels.addScaled(sum, streak, samples, 1 / turns.length);
  }
  for (let y = 0; y < height; y++) plane.set(rowOf(sum, y), y * width);
  heap.release(mark);
}

/** Dark samples around a plane's rows: as many as are read beside them, the kernels' steps of four included. */
const borderLeft = 1;
const borderRight = 5;

/** A picture whose rows have dark samples on both sides, and a dark row above and below; `across` is what lies between two rows. */
interface Bordered {
  readonly width: number;
  readonly height: number;
  readonly across: number;
}

/** Light spread to one side along a direction, by passes that sample back along it; outside the picture there is no light. Returns where it is. */
function along(
  heap: Heap,
  { light, one, other, line }: Readonly<Record<'light' | 'one' | 'other' | 'line', number>>,
  size: Bordered,
  [dx, dy]: readonly [number, number],
  length: number,
): number {
  // So much of a sample's light each pixel onwards, that a hundredth is left at the length.
  const all = samplesOfPass ** passes;
  const stride = Math.max(1, length / all);
  let from = light;
  for (let pass = 0; pass < passes; pass++) {
    const step = samplesOfPass ** pass * stride;
    const weights = Array.from({ length: samplesOfPass }, (_, i) => exp2Exact((left * step * i) / length));
    const sum = weights.reduce((a, b) => a + b, 0);
    const taps = weights.map((w, i) => tapOf(-dx * step * i, -dy * step * i, w / sum));
    const to = from === one ? other : one;
    for (let y = 0; y < size.height; y++) {
      heap.kernels.fillPlane(line, size.width, 0);
      for (const tap of taps) addTap(heap, line, from, size, tap, y);
      const samples = heap.floats(line, size.width);
      heap.floats(to + 4 * ((y + 1) * size.across + borderLeft), size.width).set(samples);
    }
    from = to;
  }
  return from;
}

/** A plane seen from somewhere else by straight lines between its samples: whole samples to the right and down, and the shares of the four around. */
interface Tap {
  readonly x: number;
  readonly y: number;
  readonly shares: readonly [upper: number, upperRight: number, lower: number, lowerRight: number];
}

function tapOf(right: number, down: number, weight: number): Tap {
  const [x, y] = [Math.floor(right), Math.floor(down)];
  const [fx, fy] = [right - x, down - y];
  const [above, below] = [weight * (1 - fy), weight * fy];
  return { x, y, shares: [above * (1 - fx), above * fx, below * (1 - fx), below * fx] };
}

/** Adds what a tap sees to a line of the picture. Where all four samples are outside there is nothing. */
function addTap(
  heap: Heap,
  line: number,
  from: number,
  { width, height, across }: Bordered,
  tap: Tap,
  y: number,
): void {
  const v = y + tap.y;
  const [first, end] = [Math.max(0, -1 - tap.x), Math.min(width, width - tap.x)];
  if (v < -1 || v >= height || end <= first) return;
  const at = from + 4 * ((v + 1) * across + borderLeft + first + tap.x);
  tap.shares.forEach((share, k) => {
    const beside = 4 * ((k % 2) + (k > 1 ? across : 0));
    if (share !== 0) heap.kernels.addScaled(line + 4 * first, at + beside, end - first, share);
  });
}
