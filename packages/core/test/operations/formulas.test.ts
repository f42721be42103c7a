import { describe, expect, test } from '@jest/globals';
import { isKeyed } from '../../src/ledger/document.ts';
import { valueAt } from '../../src/operations/keyed.ts';
import { whiteOfLight } from '../../src/colour/whiteOfLight.ts';
import { askReference, withTransform, write } from '../config/compare.ts';
import { adjusted } from './surroundings.ts';

// Each formula worked out here in double precision, apart from the engine's own code: the published one beside each.

const pixels = [
  [0.18, 0.18, 0.18],
  [0.9, 0.4, 0.05],
  [-0.2, 0, 3.5],
  [12, 0.001, 0.6],
];
/** Weights of AP1's luminance (SMPTE RP 177 from the primaries of S-2014-004; the second row of its published matrix to XYZ). */
const ap1 = [0.2722287168, 0.6740817658, 0.0536895174];
const y = (p: readonly number[], w = ap1) => w.reduce((sum, k, c) => sum + k * p[c]!, 0);

const cases: [string, object, (v: number, c: number, p: readonly number[]) => number][] = [
  ['v · 2^stops', { kind: 'exposure', stops: 1.5, blue: -1 }, (v, c) => v * 2 ** (c === 2 ? 0.5 : 1.5)],
  ['v · gain', { kind: 'gain', red: 2, green: 0.5, master: 3 }, (v, c) => v * 3 * [2, 0.5, 1][c]!],
  ['v + offset', { kind: 'offset', red: 0.1, master: -0.02 }, (v, c) => v - 0.02 + [0.1, 0, 0][c]!],
  [
    'v^(1/gamma) above 0',
    { kind: 'gamma', red: 2, green: 0.5, blue: 1.5 },
    (v, c) => (v > 0 ? v ** (1 / [2, 0.5, 1.5][c]!) : v),
  ],
  ['v + lift · (1 − v)', { kind: 'lift', red: 0.2, blue: -0.1 }, (v, c) => v + [0.2, 0, -0.1][c]! * (1 - v)],
  ['v · colour', { kind: 'tint', colour: [1, 0.5, 0.25], amount: 0.5 }, (v, c) => v * (0.5 + 0.5 * [1, 0.5, 0.25][c]!)],
  ['Y + (v − Y) · amount', { kind: 'saturation', amount: 0.3 }, (v, _, p) => y(p) + (v - y(p)) * 0.3],
  [
    'a contrast about a pivot',
    { kind: 'contrast', amount: 1.7, pivot: 0.18 },
    (v) => (v > 0 ? 0.18 * (v / 0.18) ** 1.7 : v),
  ],
  [
    'levels',
    { kind: 'levels', blackIn: 0.1, whiteIn: 0.8, blackOut: -0.2, whiteOut: 2 },
    (v) => ((v - 0.1) / (0.8 - 0.1)) * (2 + 0.2) - 0.2,
  ],
  [
    'ASC CDL 1.2 without clamps',
    { kind: 'cdl', slope: [1.2, 1, 0.9], offset: [0.02, -0.3, 0], power: [1.5, 1, 0.8], saturation: 0.6 },
    (_, c, p) => {
      const sop = p.map((v, i) => {
        const x = v * [1.2, 1, 0.9][i]! + [0.02, -0.3, 0][i]!;
        return x > 0 ? x ** [1.5, 1, 0.8][i]! : x;
      });
      const luma = y(sop, [0.2126, 0.7152, 0.0722]);
      return luma + 0.6 * (sop[c]! - luma);
    },
  ],
  [
    'a matrix, rows first, and its offset',
    { kind: 'matrix', matrix: [1, 2, 3, 0, 1, 0.5, -1, 0, 1], offset: [0.1, 0, -0.1] },
    (_, c, p) => [p[0]! + 2 * p[1]! + 3 * p[2]! + 0.1, p[1]! + 0.5 * p[2]!, -p[0]! + p[2]! - 0.1][c]!,
  ],
  ['a clamp', { kind: 'clamp', low: 0.01, high: 0.95 }, (v) => Math.min(0.95, Math.max(0.01, v))],
  ['a hue turned by 120°: red to green', { kind: 'hue', degrees: 120 }, (_, c, p) => p[(c + 2) % 3]!],
  ['a hue turned by 480° is the same', { kind: 'hue', degrees: 480 }, (_, c, p) => p[(c + 2) % 3]!],
  [
    'a hue turned by 30°: Rodrigues about (1, 1, 1)/√3',
    { kind: 'hue', degrees: 30 },
    (v, c, p) => {
      const [k, t] = [1 / Math.sqrt(3), Math.PI / 6];
      const cross = k * (p[(c + 2) % 3]! - p[(c + 1) % 3]!);
      const dot = k * (p[0]! + p[1]! + p[2]!);
      return v * Math.cos(t) + cross * Math.sin(t) + k * dot * (1 - Math.cos(t));
    },
  ],
  [
    'a soft clip',
    { kind: 'softClip', from: 0.5, to: 2 },
    (v) => (v > 0.5 ? 0.5 + (1.5 * (v - 0.5)) / (v - 0.5 + 1.5) : v),
  ],
];

describe('formulas, by hand', () => {
  test.each(cases)('%s', (_, adjustment, formula) => {
    adjusted(adjustment, pixels).forEach((p, i) =>
      p.forEach((v, c) => {
        const want = formula(pixels[i]![c]!, c, pixels[i]!);
        expect(Math.abs(v - want)).toBeLessThanOrEqual(2e-6 * Math.max(1, Math.abs(want)));
      }),
    );
  });

  test('saturation takes the weights of the space that it works in; the way there and back changes nothing else', () => {
    const rec709 = [0.2126390059, 0.7151686788, 0.0721923154];
    const [grey] = adjusted({ kind: 'saturation', amount: 0, space: 'Linear Rec.709' }, [[0.2, 0.5, 0.1]], {
      working: 'Linear Rec.709',
    });
    grey!.forEach((v) => expect(v).toBeCloseTo(0.2 * rec709[0]! + 0.5 * rec709[1]! + 0.1 * rec709[2]!, 6));
    const [there] = adjusted({ kind: 'gain', red: 1, space: 'ACEScct' }, [[0.2, 0.5, 0.1]]);
    [0.2, 0.5, 0.1].forEach((v, c) => expect(there![c]).toBeCloseTo(v, 6));
    // A gain in a log space is a power in light: ACEScct is (log2(v) + 9.72) / 17.52 above its toe (S-2016-001).
    const [log] = adjusted({ kind: 'gain', master: 1.1, space: 'ACEScct' }, [[0.2, 0.5, 0.1]]);
    [0.2, 0.5, 0.1].forEach((v, c) => expect(log![c]).toBeCloseTo(2 ** ((Math.log2(v) + 9.72) * 1.1 - 9.72), 5));
  });

  test('keyed numbers take their value at the frame', () => {
    const stops = {
      keys: [
        [1001, 0],
        [1011, 2],
      ],
    };
    const at = (frame: number) => adjusted({ kind: 'exposure', stops }, [[0.5, 0.5, 0.5]], { frame })[0]![0];
    expect([at(990), at(1001), at(1006), at(1011), at(2000)]).toEqual([0.5, 0.5, 1, 2, 2]);
  });

  test('curves go through their points, rise between them, and go straight on beyond', () => {
    const master = [
      [0, 0],
      [0.25, 0.1],
      [0.75, 0.9],
      [1, 1],
    ];
    const ramp = Array.from({ length: 41 }, (_, i) => [i / 40, i / 40, i / 40]);
    const through = adjusted({ kind: 'curves', master, space: 'ACEScg' }, ramp).map((p) => p[0]!);
    for (const [x, v] of master) expect(through[x! * 40]).toBeCloseTo(v!, 6);
    through.forEach((v, i) => i > 0 && expect(v).toBeGreaterThanOrEqual(through[i - 1]!));
    const [far, further] = adjusted({ kind: 'curves', master, space: 'ACEScg' }, [
      [2, 2, 2],
      [3, 3, 3],
    ]);
    const [one] = adjusted({ kind: 'curves', master, space: 'ACEScg' }, [[1, 1, 1]]);
    expect(further![0]! - far![0]!).toBeCloseTo(far![0]! - one![0]!, 5);
  });

  test('white balance: a black body of 2856 K is illuminant A; a picked colour becomes grey of its own brightness', () => {
    // CIE 015:2018, illuminant A: x 0.44758, y 0.40745; Krystek's approximation is good to about 1e-3 there.
    const [x, yy] = whiteOfLight(2856, 0);
    expect(Math.abs(x - 0.44758)).toBeLessThan(1.5e-3);
    expect(Math.abs(yy - 0.40745)).toBeLessThan(1.5e-3);
    for (const method of ['bradford', 'cat02']) {
      const picked = [0.8, 0.5, 0.3];
      const [grey] = adjusted({ kind: 'whiteBalance', picked, method }, [picked]);
      expect(grey![1]).toBeCloseTo(grey![0]!, 5);
      expect(grey![2]).toBeCloseTo(grey![0]!, 5);
      expect(y(grey!)).toBeCloseTo(y(picked), 5);
    }
    // Warm light is taken out: red falls, blue rises; tint above 0 takes green out.
    const [cooler] = adjusted({ kind: 'whiteBalance', kelvin: 3200 }, [[0.5, 0.5, 0.5]]);
    expect(cooler![0]! < 0.5 && cooler![2]! > 0.5).toBe(true);
    const [pinker] = adjusted({ kind: 'whiteBalance', tint: 0.02 }, [[0.5, 0.5, 0.5]]);
    expect(pinker![1]! < pinker![0]! && pinker![1]! < pinker![2]!).toBe(true);
  });

  test.each([
    [{ kind: 'levels', blackIn: 0.5, whiteIn: 0.5 }, /black in and white in are the same/],
    [{ kind: 'clamp', low: 1, high: 0 }, /low lies above high/],
    [{ kind: 'softClip', from: 2, to: 1 }, /must lie above/],
    [{ kind: 'curves', red: [[0, 0]] }, /red curve needs two points/],
    [
      {
        kind: 'curves',
        red: [
          [0, 1],
          [1, 0],
        ],
      },
      /red curve must rise/,
    ],
    [{ kind: 'conversion', from: 'ACEScg', to: 'Nowhere' }, /no colour space named "Nowhere"/],
    [{ kind: 'exposure', stops: 99 }, /exposure: all goes from -20 to 20/],
    [{ kind: 'sparkle' }, /this version does not know the adjustment "sparkle"/],
    [{ kind: 'exposure', stops: 1, matte: 'none' }, /there is no matte "none"/],
  ])('%j is refused in words', (adjustment, words) => {
    expect(() => adjusted(adjustment, pixels)).toThrow(words);
  });
});

describe('against the reference colour library', () => {
  test('the CDL without clamps, and a contrast about a pivot in linear light', () => {
    const graded = { slope: [1.2, 0.9, 1.1], offset: [0.02, -0.05, 0.01], power: [1.3, 0.8, 1], saturation: 0.7 };
    const fine = pixels.slice(0, 2).concat([[0.02, 3, 0.4]]);
    const asked = [
      '!<CDLTransform> {slope: [1.2, 0.9, 1.1], offset: [0.02, -0.05, 0.01], power: [1.3, 0.8, 1], sat: 0.7, style: noclamp}',
      '!<ExposureContrastTransform> {style: linear, exposure: 0, contrast: 1.4, gamma: 1, pivot: 0.18}',
    ];
    const values = fine as [number, number, number][];
    const wanted = asked.map(
      (text) => askReference(write(withTransform(text)), [{ name: text, from: 'ref', to: 't', values }])[0],
    );
    const got = [
      adjusted({ kind: 'cdl', ...graded }, fine),
      adjusted({ kind: 'contrast', amount: 1.4, pivot: 0.18 }, fine),
    ];
    got.forEach((list, k) =>
      list.forEach((p, i) =>
        p.forEach((v, c) =>
          expect(Math.abs(v - (wanted[k] as number[][])[i]![c]!)).toBeLessThan(2e-5 * Math.max(1, Math.abs(v))),
        ),
      ),
    );
  });
});

test('a document is keyed when a number in it is', () => {
  const fixed = { version: 2, entries: [{ mix: 1, adjustments: [{ kind: 'cdl', slope: [1, 1, 1] }] }] };
  expect(isKeyed(fixed)).toBe(false);
  expect(isKeyed({ ...fixed, entries: [{ mix: 1, adjustments: [{ slope: [1, { keys: [[1, 2]] }, 1] }] }] })).toBe(true);
});

describe('a keyed number', () => {
  const keys: [number, number][] = [
    [1, 0],
    [5, 4],
    [9, 4],
    [13, 0],
  ];
  test('is straight or smooth between keys, held outside, in any order, the later of two at one frame', () => {
    expect([0, 1, 3, 5, 7, 11, 20].map((f) => valueAt({ keys }, f))).toEqual([0, 0, 2, 4, 4, 2, 0]);
    expect(valueAt({ keys: [...keys].reverse() }, 3)).toBe(2);
    expect(
      valueAt(
        {
          keys: [
            [1, 1],
            [1, 7],
          ],
        },
        1,
      ),
    ).toBe(7);
    expect(valueAt(3, 9)).toBe(3);
  });
  test('smooth never overshoots its keys and passes through them', () => {
    for (const [f, v] of keys) expect(valueAt({ keys, smooth: true }, f)).toBeCloseTo(v, 12);
    for (let f = 1; f <= 13; f += 0.25) {
      const v = valueAt({ keys, smooth: true }, f);
      expect(v >= -1e-12 && v <= 4 + 1e-12).toBe(true);
    }
    // Fritsch and Butland 1984: the slope at a key between secants 1 and 3 a unit apart is their weighted harmonic mean, 1.5.
    const rising = {
      keys: [
        [0, 0],
        [1, 1],
        [2, 4],
        [3, 5],
      ] as [number, number][],
      smooth: true,
    };
    const slope = (valueAt(rising, 1 + 1e-6) - valueAt(rising, 1 - 1e-6)) / 2e-6;
    expect(slope).toBeCloseTo(1.5, 4);
  });
});
