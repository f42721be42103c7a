import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { lutDisplay } from '../../src/config/lutViews.ts';
import { readLut } from '../../src/lut/read.ts';
import { candidatesOf, throughSteps } from '../../src/match/candidates.ts';
import { ap1 } from '../../src/colour/primaries.ts';
import type { CodePicture, LightPicture, ThreePlanes } from '../../src/match/pictures.ts';
import { randomFrom } from '../operations/surroundings.ts';
import { findMatch, type MatchProgress } from '../../src/match/finder.ts';
import { found } from './find.ts';
import {
  configs,
  drawTruth,
  frame,
  heap,
  isFound,
  planesOf,
  saveAs,
  wordsOf,
  type Truth,
  plainTruth,
} from './cases.ts';

describe('the finder', () => {
  const frames = Array.from({ length: 9 }, (_, i) => frame(1 + i, 96, 54));
  test('finds what made a PNG, in at least 98 of 100 drawn cases', () => {
    const random = randomFrom(7);
    const wrong: string[] = [];
    const cannot: string[] = [];
    const count = 150;
    for (let i = 0; i < count; i++) {
      const light = frames[i % frames.length]!;
      const truth = drawTruth(random);
      const picture = { ...light, planes: planesOf(saveAs(truth, light)) };
      const result = found(light, picture);
      if (result.verdict === 'cannot-tell') cannot.push(wordsOf(truth));
      else if (!isFound(result, truth))
        wrong.push(
          `${wordsOf(truth)} was taken for ${result.verdict} ${wordsOf(result.best!)} ${result.best!.meanCode} equal ${result.best!.equal}`,
        );
    }
    expect(wrong.slice(0, 0.02 * count + 1).length > 0.02 * count ? wrong : []).toEqual([]);
    expect(cannot.length).toBeLessThanOrEqual(0.04 * count);
  }, 240_000);
});

const light = frame(40);
/** Even squares of many brightnesses, eight pixels wide. */
const lit = (i: number) => 0.02 * 2 ** ((((i % 128) >> 3) * 5 + (Math.floor(i / 128) >> 3) * 3) % 7);
const saved = (truth: Truth, of = light): CodePicture => ({ ...of, planes: planesOf(saveAs(truth, of)) });
/** The mean of squares of pixels of codes or light, written out here. */
function halved<P extends LightPicture>({ width, height, planes, ...rest }: P): P {
  const [w, h] = [width / 2, height / 2];
  const half = planes.map((p) =>
    Float32Array.from({ length: w * h }, (_, i) => {
      const at = 2 * Math.floor(i / w) * width + 2 * (i % w);
      return (p[at]! + p[at + 1]! + p[at + width]! + p[at + width + 1]!) / 4;
    }),
  ) as unknown as ThreePlanes;
  return { ...rest, width: w, height: h, planes: half } as unknown as P;
}

describe('how a reference lies on its frame', () => {
  test('the same size: nothing is moved', () => {
    const result = found(light, saved(plainTruth));
    expect(result.registration).toEqual({ scale: 1, shift: [0, 0], averaging: null });
    expect([result.verdict, result.fitness.fit, result.best!.maxCode]).toEqual(['identical', true, 0]);
    expect(result.best!.confidence).toBeGreaterThan(0.8);
  });

  test('half the size: light was averaged before the view, or codes after it', () => {
    const before = found(light, saved(plainTruth, halved(light)));
    expect([before.verdict, before.registration]).toEqual([
      'identical',
      { scale: 0.5, shift: [0, 0], averaging: 'linear' },
    ]);
    const codes = halved(saved(plainTruth));
    const rounded = codes.planes.map((p) => p.map((v) => Math.round(255 * v) / 255)) as unknown as ThreePlanes;
    const after = found(light, { ...codes, planes: rounded });
    expect([after.verdict, after.registration.averaging]).toEqual(['identical', 'display']);
    expect(isFound(after, plainTruth)).toBe(true);
    expect(after.fitness.doubts).toEqual([expect.stringContaining('smaller than the frame')]);
  });

  test('cut out of the frame: where it lies is found in whole pixels', () => {
    const whole = saved(plainTruth);
    const cut = {
      ...whole,
      width: 121,
      height: 66,
      planes: whole.planes.map((p) =>
        Float32Array.from({ length: 121 * 66 }, (_, i) => p[(Math.floor(i / 121) + 5) * 128 + (i % 121) + 3]!),
      ) as unknown as ThreePlanes,
    };
    const result = found(light, cut);
    expect([result.verdict, result.registration.shift]).toEqual(['identical', [3, 5]]);
  });

  test('sizes of which none fits are refused with what to do', () => {
    const other = {
      width: 90,
      height: 72,
      planes: [0, 1, 2].map(() => new Float32Array(90 * 72)) as unknown as ThreePlanes,
    };
    expect(() => found(light, other)).toThrow('90×72 and the frame 128×72');
  });
});

describe('what a reference cannot be', () => {
  test('greys tell no primaries: it cannot tell, and says what colours a better frame needs', () => {
    const grey = { ...light, planes: [0, 1, 2].map(() => light.planes[1]) as unknown as ThreePlanes };
    const result = found(grey, saved(plainTruth, grey));
    expect([result.verdict, result.best!.confidence]).toEqual(['cannot-tell', 0]);
    expect(result.reason).toMatch(/cannot tell .* · sRGB · ACES SDR from .* A frame with .* would tell, by \d+ codes/);
  });

  test('a note over a corner: the view is found all the same, and what differs is named as local', () => {
    const noted = saved(plainTruth);
    for (const p of noted.planes) for (let y = 2; y < 11; y++) p.fill(0.9, y * 128 + 2, y * 128 + 30);
    const result = found(light, noted);
    expect(isFound(result, plainTruth)).toBe(true);
    expect([result.explained, result.leftOver!.local, result.fitness.fit]).toEqual([false, true, false]);
    expect(['identical', 'equal']).not.toContain(result.verdict);
  });

  test('of another frame: it says so', () => {
    const result = found(light, saved(plainTruth, frame(41)));
    expect(result.fitness.doubts[0]).toContain('does not show the same');
    expect(result.explained).toBe(false);
  });

  test('a curve over a PNG is not explained, and where it is largest is told', () => {
    const picture = saved(plainTruth);
    const curved = picture.planes.map((p) =>
      p.map((v) => Math.round(255 * (v + 0.06 * Math.sin(2 * Math.PI * (v - 0.5)))) / 255),
    );
    const result = found(light, { ...picture, planes: curved as unknown as ThreePlanes });
    expect(['identical', 'equal']).not.toContain(result.verdict);
    expect(result.reason).toMatch(/^Not explained.*(lighter|darker)/);
  });

  test('of another noise, or another filter: told apart, and from what is right', () => {
    const random = randomFrom(5);
    const picture = saved(plainTruth);
    const noisy = picture.planes.map((p) => p.map((v) => Math.round(255 * v + 8 * (random() - 0.5)) / 255));
    const unfinished = found(light, { ...picture, planes: noisy as unknown as ThreePlanes });
    expect(unfinished.fitness.doubts).toEqual([expect.stringContaining('by grain everywhere')]);
    // A frame without grain, its picture sharpened: only edges move.
    const calm = { ...light, planes: light.planes.map((p) => p.map((_, i) => lit(i))) as unknown as ThreePlanes };
    const plain = saved(plainTruth, calm);
    const sharp = plain.planes.map((p) =>
      p.map((v, i) => {
        const around = ((p[i - 1] ?? v) + (p[i + 1] ?? v) + (p[i - 128] ?? v) + (p[i + 128] ?? v)) / 4;
        return Math.round(255 * Math.min(1, Math.max(0, v + 0.5 * (v - around)))) / 255;
      }),
    );
    const sharpened = found(calm, { ...plain, planes: sharp as unknown as ThreePlanes });
    expect(sharpened.fitness.doubts).toEqual([expect.stringContaining('Only edges differ')]);
    expect(found(calm, plain).fitness.fit).toBe(true);
  });

  test('saved without a view', () => {
    const result = found(
      light,
      saved({ ...plainTruth, space: 'Linear Rec.709', view: 'Untoned', mistake: 'not-encoded' }),
    );
    expect(result.best!.maxCode).toBeLessThanOrEqual(1);
    expect(result.fitness.doubts).toEqual([expect.stringContaining('saved without a view')]);
    const untoned = found(light, saved({ ...plainTruth, view: 'Untoned' }));
    expect(untoned.fitness.doubts).toEqual([expect.stringContaining('without a tone curve')]);
  });
});

describe('what the file says', () => {
  test('primaries that contradict the space that makes the picture are named', () => {
    const result = found(light, saved({ ...plainTruth, space: 'Linear Rec.709' }), { chromaticities: ap1 });
    expect([result.best!.space, result.best!.mistake]).toEqual(['Linear Rec.709', 'wrong-primaries']);
    expect(found(light, saved(plainTruth), { chromaticities: ap1 }).best!.mistake).toBe(null);
  });
});

describe('numbers that are not linear', () => {
  test.each([
    ['LogC3', 1],
    ['ACEScct', 1],
    ['sRGB', 1 / 30],
  ])('%s is found', (space, gain) => {
    const encode = new ShotColour().conversion('ACEScg', space);
    const n = light.width * light.height;
    const lightAt = (i: number) => light.planes.map((p) => gain * p[i]!) as [number, number, number];
    const numbers = throughSteps(encode, heap, n, lightAt);
    const planes = [0, 1, 2].map((c) => numbers.filter((_, i) => i % 3 === c)) as unknown as ThreePlanes;
    const truth = { ...plainTruth, space };
    const result = found({ ...light, planes }, saved(truth, { ...light, planes }));
    expect([result.verdict, isFound(result, truth)]).toEqual(['identical', true]);
  });
});

describe('LUTs', () => {
  // A look that warms and lifts, 5 nodes a side, on log numbers.
  const nodes = Array.from({ length: 125 }, (_, n) =>
    [n % 5, Math.floor(n / 5) % 5, Math.floor(n / 25)].map((v) => v / 4),
  );
  const text = ['LUT_3D_SIZE 5', ...nodes.map(([r, g, b]) => [0.95 * r! + 0.05, 0.9 * g! + 0.04, 0.8 * b!].join(' '))];
  const lut = readLut(new TextEncoder().encode(text.join('\n')), 'warm.cube');
  const lookFile = { id: 'warm', name: 'warm.cube', space: 'ACEScct' };
  const config = { id: null, name: 'builtin', colour: new ShotColour(undefined, new Map([['warm', lut]])) };
  const of = candidatesOf({ ...config, files: [lookFile] }, heap);

  test('that were on as a look are found, and told from a picture without', () => {
    const warm = { ...plainTruth, of, lookFile };
    const result = found(light, saved(warm), { configs: [of] });
    expect([result.verdict, result.best!.lookFile]).toEqual(['identical', lookFile]);
    expect(isFound(result, warm)).toBe(true);
    expect(found(light, saved(plainTruth), { configs: [of] }).best!.lookFile).toBe(null);
  });

  test('that make the codes by themselves are found as views', () => {
    const show = { name: 'show.cube', from: 'ACEScct', encoding: 'srgb', transform: lut } as const;
    const shown = candidatesOf(
      { id: null, name: 'builtin', colour: new ShotColour(undefined, new Map(), [], [show]) },
      heap,
    );
    const truth = { ...plainTruth, of: shown, display: lutDisplay, view: 'show.cube', exposure: 0.5 };
    const result = found(light, saved(truth), { configs: [shown] });
    expect([result.verdict, result.best!.display, result.best!.view]).toEqual(['identical', lutDisplay, 'show.cube']);
    expect(isFound(result, truth)).toBe(true);
  });
});

describe('levels and alpha', () => {
  test.each([
    [{ levels: [0.03, 1] }, 'levels 0.03 to 1.00'],
    [{ levels: [-0.05, 0.9] }, 'levels -0.05 to 0.90'],
    [{ of: configs[1]!, view: 'Haze', levels: [0.04, 1.1], exposure: 0.5 }, 'levels 0.04 to 1.10'],
  ] as [Partial<Truth>, string][])('levels of a renderer are found: %o', (more, words) => {
    const truth = { ...plainTruth, ...more };
    const result = found(light, saved(truth));
    expect([result.verdict, isFound(result, truth)]).toEqual(['identical', true]);
    expect(result.best!.reason).toContain(words);
  });

  // Light that ends softly: everything lies within a disc whose edge is twelve pixels wide.
  const { width, height } = light;
  const alpha = Float32Array.from({ length: width * height }, (_, i) => {
    const out = Math.hypot((i % width) - width / 2, Math.floor(i / width) - height / 2) - 24;
    return Math.min(1, Math.max(0, 1 - out / 12));
  });
  const times = (gain: (a: number) => number): LightPicture => ({
    ...light,
    planes: light.planes.map((p) => p.map((v, i) => v * gain(alpha[i]!))) as unknown as ThreePlanes,
    alpha,
  });
  const premultiplied = times((a) => a);
  test.each([
    ['divided-by-alpha', times((a) => (a > 0 ? 1 : 0))],
    ['multiplied-by-alpha', times((a) => a * a)],
    [null, premultiplied],
  ] as const)('%s: is told at soft edges', (mistake, shown) => {
    const { verdict, best } = found(premultiplied, saved(plainTruth, shown));
    expect([verdict, best!.view, best!.mistake]).toEqual(['identical', 'ACES SDR', mistake]);
  });

  test('a frame that covers all has none of these', () => {
    const covered = { ...light, alpha: new Float32Array(width * height).fill(1) };
    expect(found(covered, saved(plainTruth, covered)).ranking.every((r) => !r.mistake?.endsWith('alpha'))).toBe(true);
  });
});

describe('what the renderer said', () => {
  test('is tried first', () => {
    const picture = saved({ ...plainTruth, exposure: 0.5 });
    const first = (note: string) => findMatch({ light, picture, configs, note }, heap).next().value as MatchProgress;
    const views = (note: string) => new Set(first(note).rows.map(({ guess }) => guess.view.view));
    expect(views('view Haze')).toEqual(new Set(['Haze']));
    expect(views('')).not.toEqual(new Set(['Haze']));
  });

  test.each([
    ['sRGB display, ACES SDR view, exposure 0.5', /^It is what/],
    ['ACES SDR, exposure +1', /^It is not what the renderer said, which is taken for .*ACES SDR · exposure 1/],
    ['view: Haze', /^It is not what .*Haze/],
    ['gloaming over zinc', /fit nothing/],
  ])('%s: is told beside what was found', (note, words) => {
    const result = found(light, saved({ ...plainTruth, exposure: 0.5 }), { note });
    expect(isFound(result, { ...plainTruth, exposure: 0.5 })).toBe(true);
    expect(result.said).toMatch(words);
  });

  test('decides where the picture cannot', () => {
    const grey = { ...light, planes: [0, 1, 2].map(() => light.planes[1]) as unknown as ThreePlanes };
    for (const space of ['ACEScg', 'Linear Rec.709']) {
      const result = found(grey, saved(plainTruth, grey), { note: `space: ${space}, view: ACES SDR, display: sRGB` });
      expect([result.verdict, result.best!.space]).toEqual(['cannot-tell', space]);
      expect(result.reason).toMatch(/The first is what the renderer said/);
    }
    expect(found(grey, saved(plainTruth, grey)).said).toBe(null);
  });
});
