import { describe, expect, test } from '@jest/globals';
import { judgeDepth, type DepthScene } from '../../src/intake/depth.ts';
import { looksEncoded, looksLinear, pixelEvidence, traitsOf } from '../../src/intake/pixelEvidence.ts';
import { alphaVerdict, alphaVotes } from '../../src/intake/premultiplication.ts';
import { channelStatistics, joinStatistics, percentile } from '../../src/intake/statistics.ts';
import { numberToHalf } from '../../src/image/half.ts';

/** The same "random" numbers everywhere, 0 … 1. */
function noise(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;
}
/** IEC 61966-2-1, encoding. */
const encode = (x: number) => (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055);

describe('statistics of a channel', () => {
  const awkward = [NaN, Infinity, -Infinity, -2, -0.0005, 0, -0, 0.25, 1, 1.5, 65504, 70000];

  test('what must not be is counted exactly, in floats', () => {
    const s = channelStatistics(Float32Array.from(awkward));
    expect(s).toMatchObject({
      samples: 12,
      nan: 1,
      infinite: 2,
      positiveInfinite: 1,
      // -0.0005 is what filters leave.
      negative: 1,
      zero: 2,
      atOne: 1,
      aboveOne: 3,
      beyondHalf: 2,
      minimum: -2,
      maximum: 70000,
    });
    expect(s.sum).toBeCloseTo(-2 - 0.0005 + 0.25 + 1 + 1.5 + 65504 + 70000, 1);
  });

  test('halves, counted by their bit patterns, say the same as floats of the same values', () => {
    const next = noise(7);
    const halves = Uint16Array.from({ length: 4096 }, () => numberToHalf(2 ** (next() * 20 - 12) - 0.01));
    const floats = Float32Array.from(halves, (h) => {
      const exponent = (h >> 10) & 31;
      const size = exponent === 0 ? (h & 1023) * 2 ** -24 : (1024 + (h & 1023)) * 2 ** (exponent - 25);
      return h & 0x8000 ? -size : size;
    });
    const [a, b] = [channelStatistics(halves), channelStatistics(floats)];
    for (const key of ['samples', 'negative', 'zero', 'aboveOne', 'atOne', 'minimum', 'maximum'] as const)
      expect([key, a[key]]).toEqual([key, b[key]]);
    expect(a.sum).toBeCloseTo(b.sum, 2);
  });

  test('percentiles are right to an eighth of a stop, over sixteen stops', () => {
    const values = Float32Array.from({ length: 8000 }, (_, i) => 2 ** ((i / 8000) * 16 - 10));
    const s = channelStatistics(values);
    for (const share of [0.05, 0.5, 0.95])
      expect(Math.abs(Math.log2(percentile(s, share)) - (share * 16 - 10))).toBeLessThan(1 / 8);
    expect(percentile(channelStatistics(new Float32Array(10)), 0.5)).toBe(0);
  });

  test('joined statistics are those of all samples together', () => {
    const next = noise(3);
    const values = Float32Array.from({ length: 2000 }, () => next() * 2 - 0.1);
    const whole = channelStatistics(values);
    const joined = joinStatistics([
      channelStatistics(values.subarray(0, 800)),
      channelStatistics(values.subarray(800)),
    ]);
    for (const key of ['samples', 'negative', 'aboveOne', 'minimum', 'maximum'] as const)
      expect([key, joined[key]]).toEqual([key, whole[key]]);
    expect([...joined.bins]).toEqual([...whole.bins]);
  });
});

describe('what pixels look like', () => {
  const next = noise(11);
  /** A scene: mid-tones about 18 % grey, a bright sky. */
  const light = Float32Array.from({ length: 20_000 }, (_, i) => (i % 3 ? 0.18 * 2 ** (next() * 6 - 4) : 0.7 + next()));
  const traits = (values: Float32Array) => traitsOf([channelStatistics(values)])!;
  const shown = light.map((x) => Math.min(encode(x), 1));
  const codes = shown.map((x) => Math.round(x * 255) / 255);

  test('light above 1 is nothing that a display encoding holds', () => {
    expect(looksEncoded(traits(light))).toBe(false);
    const [evidence] = pixelEvidence('exr', false, { channels: [channelStatistics(light)], imaginary: {} });
    expect(evidence).toMatchObject({ from: 'pixels', about: 'linear', weight: 0.75 });
    expect(evidence!.says).toMatch(/^\d+ % are above 1, up to 1\.\d+: no display encoding holds them$/);
  });

  test('256 levels are an 8-bit picture, also when they lie in floats', () => {
    expect(traits(codes)).toMatchObject({ bounded: true, eightBit: true });
    expect(pixelEvidence('exr', false, { channels: [channelStatistics(codes)], imaginary: {} })).toMatchObject([
      { about: 'encoded', weight: 0.9, says: expect.stringMatching(/levels between 0 and 1, as of an 8-bit picture/) },
    ]);
  });

  test('a float picture spread up to white as encoded ones are is taken for encoded; a dim linear one is not', () => {
    expect(looksEncoded(traits(shown))).toBe(true);
    const dim = light.map((x) => x * 0.2);
    expect(traits(dim).bounded).toBe(true);
    expect(looksEncoded(traits(dim))).toBe(false);
  });

  test('an integer picture with light as its codes is found; the same picture encoded, a night and a dark one are not', () => {
    const scene = Float32Array.from({ length: 20_000 }, (_, i) =>
      i % 10 ? 0.01 * 2 ** (next() * 2) : 0.6 + next() * 0.4,
    );
    expect(looksLinear(traits(scene))).toBe(true);
    expect(looksLinear(traits(scene.map(encode)))).toBe(false);
    const night = Float32Array.from({ length: 20_000 }, (_, i) => (i % 200 ? 0.03 * next() : 0.9));
    expect(looksLinear(traits(night))).toBe(false);
    expect(looksLinear(traits(scene.map((x) => x * 0.1)))).toBe(false);
  });

  test('colours that no eye sees speak against a space only where another holds them better', () => {
    const about = (imaginary: Record<string, number>) =>
      pixelEvidence('exr', false, { channels: [channelStatistics(new Float32Array(100).fill(0.5))], imaginary })
        .filter((e) => e.against)
        .map((e) => e.against);
    expect(about({ ACEScg: 0, 'Linear Rec.709': 0.05 })).toEqual(['Linear Rec.709']);
    expect(about({ ACEScg: 0.04, 'Linear Rec.709': 0.05 })).toEqual([]);
    expect(about({ ACEScg: 0, 'Linear Rec.709': 0.001 })).toEqual([]);
  });
});

describe('depth', () => {
  const [width, height] = [64, 48];
  /** A ground plane seen from a little above it: distance grows towards the horizon; position and haze with it. */
  function ground(depthOf: (distance: number) => number, more: Partial<DepthScene> = {}): DepthScene {
    const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as [Float32Array, Float32Array, Float32Array];
    const depth = new Float32Array(width * height);
    const haze = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const distance = 100 / (y + 2);
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        planes[0][i] = ((x - width / 2) / width) * distance;
        planes[1][i] = -1;
        planes[2][i] = -distance;
        depth[i] = depthOf(distance);
        haze[i] = 1 - Math.exp(-distance / 20);
      }
    }
    return { width, height, depth, position: planes, haze, ...more };
  }
  const without = (scene: DepthScene, ...keys: (keyof DepthScene)[]) =>
    Object.fromEntries(
      Object.entries(scene).filter(([k]) => !keys.includes(k as keyof DepthScene)),
    ) as unknown as DepthScene;

  test('distance that grows away from the camera is right, by position and by haze', () => {
    expect(judgeDepth(ground((d) => d))).toEqual({ reversed: false, because: 'position and haze' });
    expect(
      judgeDepth(
        without(
          ground((d) => d),
          'position',
        ),
      ),
    ).toEqual({ reversed: false, because: 'haze' });
  });

  test('near and far swapped is found, also when it is normalised', () => {
    expect(judgeDepth(ground((d) => 1 / d))).toMatchObject({ reversed: true, because: 'position and haze' });
    expect(
      judgeDepth(
        without(
          ground((d) => 1 - d / 60),
          'haze',
        ),
      ),
    ).toEqual({ reversed: true, because: 'position' });
  });

  test('depth alone, a flat depth, and witnesses that disagree say nothing', () => {
    expect(
      judgeDepth(
        without(
          ground((d) => d),
          'position',
          'haze',
        ),
      ),
    ).toBeUndefined();
    expect(judgeDepth(ground(() => 5))).toBeUndefined();
    const scene = ground((d) => d);
    expect(judgeDepth({ ...scene, haze: scene.haze!.map((h) => 1 - h) })).toBeUndefined();
  });

  test('a sky at 1e10 or at 0, and what is transparent, is not looked at', () => {
    const scene = ground((d) => (d > 10 ? 1e10 : d));
    expect(judgeDepth(scene)).toMatchObject({ reversed: false });
    expect(judgeDepth({ ...scene, depth: scene.depth.map((d) => (d > 1e6 ? 0 : d)) })).toMatchObject({
      reversed: false,
    });
    expect(judgeDepth({ ...scene, alpha: new Float32Array(width * height) })).toBeUndefined();
  });
});

describe('alpha', () => {
  const [width, height] = [60, 60];
  /** A disc of one colour with a soft edge, on black or on a sky without alpha. */
  function disc(kind: 'premultiplied' | 'straight', sky = 0) {
    const colour = [0, 1, 2].map(() => new Float32Array(width * height)) as [Float32Array, Float32Array, Float32Array];
    const alpha = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const a = Math.min(Math.max((20 - Math.sqrt((x - 30) ** 2 + (y - 30) ** 2)) / 3 + 0.5, 0), 1);
        alpha[i] = a;
        [0.8, 0.5, 0.3].forEach((c, k) => {
          colour[k]![i] = (kind === 'premultiplied' ? c * a : a > 0 ? c : 0) + (1 - a) * sky;
        });
      }
    }
    return alphaVotes(colour, alpha, width, height);
  }

  test.each(['premultiplied', 'straight'] as const)('soft edges tell %s colour', (kind) => {
    const votes = disc(kind);
    expect(votes.premultiplied + votes.straight).toBeGreaterThan(40);
    expect(alphaVerdict(votes)).toBe(kind);
  });

  test('edges before a picture that goes on behind tell nothing', () => {
    expect(alphaVerdict(disc('premultiplied', 0.6))).toBeUndefined();
  });

  test('few votes, or divided ones, decide nothing', () => {
    expect(alphaVerdict({ premultiplied: 30, straight: 0 })).toBeUndefined();
    expect(alphaVerdict({ premultiplied: 60, straight: 40 })).toBeUndefined();
    expect(alphaVerdict({ premultiplied: 5, straight: 95 })).toBe('straight');
  });
});
