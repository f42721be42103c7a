import { describe, expect, test } from '@jest/globals';
import { compile, entry, evaluated, finish, inputsOf } from './surroundings.ts';

const [width, height] = [96, 48];
const n = width * height;

/** Evaluates a finish of the pass `light` over planes given by channel. */
function finished(kind: string, more: object, channel: (name: string, x: number, y: number) => number): Float32Array[] {
  const plan = compile([entry('light'), finish(kind, { source: 's', pass: 'depth', ...more })], { alphaFrom: null });
  const samples = (name: string) =>
    Float32Array.from({ length: n }, (_, i) => channel(name, i % width, Math.floor(i / width)));
  return evaluated(plan, inputsOf(plan, samples), { width, height });
}

describe('haze', () => {
  const colour = [0.5, 0.55, 0.6];
  test('light falls with distance as the law of Bouguer, Lambert and Beer says, and the haze takes its place', () => {
    const [density, start] = [0.07, 3];
    const planes = finished('haze', { density, start, colour }, (name, x) => (name.startsWith('depth') ? x : 2));
    for (const x of [0, 2, 10, 40, 95]) {
      const t = Math.exp(-density * Math.max(0, x - start));
      planes.slice(0, 3).forEach((p, c) => expect(p[20 * width + x]!).toBeCloseTo(2 * t + colour[c]! * (1 - t), 5));
    }
  });

  // Against the integral of the density along the ray, in small steps.
  test.each([
    [0.2, 40],
    [1.6, 10],
    [8, 25],
    [-3, 30],
  ])('with a thickness, a thing at height %f and distance %f is hazed by the density along the way to it', (y, d) => {
    const [density, thickness, ground, eye] = [0.06, 2, 0, 1.6];
    let through = 0;
    const steps = 20000;
    for (let i = 0; i < steps; i++) {
      // Below the ground there is none to look through: the ray ends on it.
      const h = eye + ((Math.max(ground, y) - eye) * (i + 0.5)) / steps;
      through += (density * Math.exp(-(h - ground) / thickness) * d) / steps;
    }
    const more = { density, thickness, ground, eye, position: 'place', colour };
    const [red] = finished('haze', more, (name) => (name.startsWith('depth') ? d : name === 'place.Y' ? y : 2));
    expect(red![20 * width + 40]).toBeCloseTo(2 * Math.exp(-through) + 0.5 * (1 - Math.exp(-through)), 4);
  });

  test('the sky is hazed at most, or left clear', () => {
    const sky = (none: string) =>
      finished('haze', { density: 1, most: 0.75, colour, none }, (name) =>
        name.startsWith('depth') ? 1e10 : 2,
      )[0]![0];
    expect(sky('far')).toBeCloseTo(2 * 0.25 + 0.5 * 0.75, 5);
    expect(sky('clear')).toBe(2);
    expect(
      finished('haze', { density: 1, colour, none: 'zero' }, (name) => (name.startsWith('depth') ? 0 : 2))[0]![0],
    ).toBeCloseTo(0.5, 5);
  });

  // A thing in front of a far ground; its soft edge is two pixels wide, and depth is of one side only, as renderers give it.
  const edgeAt = 48;
  const cover = (x: number, y: number) => Math.min(1, Math.max(0, (edgeAt + 0.2 * y - x) / 2 + 0.5));
  test.each([
    [1.2, 0.05],
    [0.05, 1.2],
    [0.4, 0.38],
  ])('a soft edge between %f in front and %f behind keeps no rim, whichever side its depth is of', (front, behind) => {
    for (const limit of [0.02, 0.5, 0.98]) {
      const planes = finished('haze', { density: 0.05, colour: [0.9, 0.9, 0.9] }, (name, x, y) => {
        const c = cover(x, y);
        return name.startsWith('depth') ? (c > limit ? 4 : 200) : c * front + (1 - c) * behind;
      });
      const hazed = (v: number, d: number) => v * Math.exp(-0.05 * d) + 0.9 * (1 - Math.exp(-0.05 * d));
      const [a, b] = [hazed(front, 4), hazed(behind, 200)];
      const wrong: object[] = [];
      for (let y = 6; y < height - 6; y++)
        for (let x = 20; x < 80; x++) {
          const v = planes[0]![y * width + x]!;
          const c = cover(x, y);
          const rim = v < Math.min(a, b) * 0.98 || v > Math.max(a, b) * 1.02;
          const off = Math.abs(v - (c * a + (1 - c) * b));
          if (rim || !(off < 0.03)) wrong.push({ x, y, limit, rim, off });
        }
      expect(wrong).toEqual([]);
    }
  });

  test('a bright line along the edge of what is near stays as bright as its own depth leaves it, before a sky that grows dark', () => {
    const [red] = finished('haze', { density: 0.05, colour: [0, 0, 0] }, (name, x) =>
      name.startsWith('depth') ? (x <= 48 ? 5 : 200) : x < 48 ? 0.2 : x === 48 ? 1.5 : 0.75,
    );
    expect(red![20 * width + 48]).toBeCloseTo(1.5 * Math.exp(-0.05 * 5), 2);
    expect(red![20 * width + 40]).toBeCloseTo(0.2 * Math.exp(-0.05 * 5), 4);
    expect(red![20 * width + 60]).toBeCloseTo(0.75 * Math.exp(-0.05 * 200), 4);
  });

  test('with all lost light scattered and no colour of its own, haze spreads a point and keeps its light', () => {
    const spread = 3;
    const of = (scatter: number) =>
      finished('haze', { density: 0.02, colour: [0, 0, 0], scatter, spread }, (name, x, y) =>
        name.startsWith('depth') ? 60 : x === 48 && y === 24 ? 100 : 0,
      )[1]!;
    const t = Math.exp(-0.02 * 60);
    const sum = (p: Float32Array) => p.reduce((a, b) => a + b, 0);
    expect(sum(of(0))).toBeCloseTo(100 * t, 3);
    expect(sum(of(1))).toBeCloseTo(100, 2);
    // A Gaussian of that deviation, by the density of the normal distribution.
    for (const off of [1, 3, 6]) {
      const density = Math.exp(-(off * off) / (2 * spread * spread)) / (2 * Math.PI * spread * spread);
      expect(of(1)[24 * width + 48 + off]!).toBeCloseTo(100 * (1 - t) * density, 2);
    }
  });

  test('scattered light reaches nothing that stands before the haze', () => {
    const of = (scatter: number) =>
      finished('haze', { density: 0.05, start: 5, colour, scatter, spread: 4 }, (name, x) =>
        name.startsWith('depth') ? (x < 48 ? 2 : 300) : x < 48 ? 0.1 : 40,
      )[0]!;
    for (const x of [20, 40, 46]) expect(of(1)[24 * width + x]).toBeCloseTo(0.1, 6);
    expect(of(1)[24 * width + 60]!).toBeGreaterThan(of(0)[24 * width + 60]!);
  });

  test('a pass that is gone is said at its row, and the rest goes on', () => {
    const plan = compile(
      [entry('light'), finish('haze', { source: 's', pass: 'nothing' })],
      {},
      { leaveOutFaults: true },
    );
    expect(plan.faults).toMatchObject([{ message: 'Entry "haze": there is no pass "nothing".' }]);
  });
});

describe('blur by focus', () => {
  const focus = { focus: 10, size: 8, most: 12 };
  test('light is kept: a point far behind the focus becomes a disc of the same sum', () => {
    const planes = finished('defocus', { ...focus, blades: 'disc' }, (name, x, y) =>
      name.startsWith('depth') ? 1e9 : x === 48 && y === 24 ? 100 : 0,
    );
    const sum = planes[0]!.reduce((a, b) => a + b, 0);
    expect(sum).toBeCloseTo(100, 2);
    // Its radius is the circle of confusion of infinity, shared by the layers beside it.
    const at = (x: number) => planes[0]![24 * width + x]!;
    expect(at(48 + 5)).toBeGreaterThan(0.3);
    expect(at(48 + 8)).toBeGreaterThan(0.1);
    expect(at(48 + 10)).toBe(0);
  });

  test.each(['disc', 'six', 'five'])('an even plane stays as it is, with a %s aperture', (blades) => {
    const planes = finished('defocus', { ...focus, blades }, (name, x) => (name.startsWith('depth') ? 2 + x : 0.7));
    expect(Math.max(...planes[0]!.map((v) => Math.abs(v - 0.7)))).toBeLessThan(1e-4);
  });

  test('what lies at the focus stays sharp, and does not bleed into the blur behind it', () => {
    const planes = finished('defocus', focus, (name, x) =>
      name.startsWith('depth') ? (x < 48 ? 10 : 1e9) : x < 48 ? 5 : 0.2,
    );
    const at = (x: number) => planes[0]![24 * width + x]!;
    expect(at(40)).toBeCloseTo(5, 4);
    expect(at(46)).toBeCloseTo(5, 3);
    // One pixel goes with what lies in front; behind it there is nothing of the bright front.
    expect(at(50)).toBeCloseTo(0.2, 3);
    expect(at(60)).toBeCloseTo(0.2, 3);
  });
});

describe('grain', () => {
  const light = 0.18;
  const noise = (more: object, value = light) =>
    finished('grain', { amount: 0.1, colour: 1, ...more }, () => value)[1]!.map((v) => v - value);
  const mean = (p: Float32Array) => p.reduce((a, b) => a + b, 0) / p.length;
  const spread = (p: Float32Array) => Math.sqrt(p.reduce((a, v) => a + v * v, 0) / p.length);

  test.each([0, 0.7, 1.5])('of size %f has a mean of nothing and the spread that it says', (size) => {
    const p = noise({ size });
    // The mean of so many numbers lies within three of its own deviations.
    expect(Math.abs(mean(p))).toBeLessThan((3 * 0.018 * Math.max(1, 3.6 * size)) / Math.sqrt(n));
    expect(spread(p) / (0.1 * light)).toBeGreaterThan(size > 1 ? 0.85 : 0.95);
    expect(spread(p) / (0.1 * light)).toBeLessThan(size > 1 ? 1.15 : 1.05);
  });

  test('darks carry as much as is said, frames and seeds differ, and the same frame is the same', () => {
    const relative = (darks: number) => spread(noise({ size: 0, darks }, 0.01)) / spread(noise({ size: 0, darks }));
    expect(relative(1)).toBeCloseTo(1, 2);
    expect(relative(0)).toBeCloseTo(0.01 / 0.18, 2);
    expect(relative(0.6)).toBeCloseTo((0.01 / 0.18) ** 0.4, 2);
    expect(noise({ seed: 1 })).not.toEqual(noise({ seed: 2 }));
    expect(noise({})).toEqual(noise({}));
    const at = (frame: number) => {
      const plan = compile([entry('light'), finish('grain', {})], { alphaFrom: null }, { frame });
      return evaluated(
        plan,
        inputsOf(plan, () => new Float32Array(n).fill(light)),
        { width, height },
      )[0]!;
    };
    expect(at(1001)).not.toEqual(at(1002));
    const [a, b] = [at(1001), at(1002)].map((p) => p.map((v) => v - light));
    const together = a!.reduce((sum, v, i) => sum + v * b![i]!, 0) / (n * spread(a!) * spread(b!));
    expect(Math.abs(together)).toBeLessThan(0.06);
  });
});

describe('other finishes', () => {
  test('a vignette leaves the middle and takes its stops in the corners', () => {
    const [r] = finished('vignette', { stops: -2, inner: 0.2, outer: 1, round: 1 }, () => 1);
    expect(r![24 * width + 48]).toBeCloseTo(1, 5);
    expect(r![0]).toBeCloseTo(0.25, 2);
  });

  test('a median takes out a firefly and leaves edges', () => {
    const scene = (x: number, y: number) => (x === 30 && y === 20 ? 500 : x < 48 ? 0.1 : 0.9);
    const [r] = finished('median', { above: 3 }, (_, x, y) => scene(x, y));
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        expect(r![y * width + x]).toBe(Math.fround(x === 30 && y === 20 ? 0.1 : scene(x, y)));
  });

  test('fringing moves red and blue apart in the corners and leaves green and the middle', () => {
    const planes = finished('fringe', { size: 3 }, (_, x) => x);
    expect(planes[1]![10]).toBe(10);
    expect(planes[0]![24 * width + 47]).toBeCloseTo(47, 1);
    expect(planes[0]![24 * width + 4]! - planes[2]![24 * width + 4]!).toBeGreaterThan(3);
  });

  test('a grade is its adjustments on the total, where its matte says', () => {
    const adjustments = [{ kind: 'gain', enabled: true, master: 2 }];
    const plan = compile([entry('light'), finish('grade', { adjustments, mix: 0.5, matte: 'm' }), entry('light')], {
      alphaFrom: null,
      mattes: { m: { kind: 'brightness', low: 0.4, high: 0.5 } },
    });
    const samples = () => Float32Array.from({ length: n }, (_, i) => (i % 2 ? 0.2 : 0.8));
    const [r] = evaluated(plan, inputsOf(plan, samples), { width, height });
    expect(r![0]).toBeCloseTo(0.8 * 1.5 + 0.8, 6);
    expect(r![1]).toBeCloseTo(0.2 + 0.2, 6);
  });
});
