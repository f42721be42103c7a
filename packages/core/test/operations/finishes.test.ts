import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { placementTo } from '../../src/ledger/planSource.ts';
import { mitchell } from '../../src/image/resample.ts';
import { compile, entry, evaluated, finish, inputsOf, randomFrom, source } from './surroundings.ts';

describe('blur', () => {
  const [width, height, size] = [40, 30, 2.5];
  const random = randomFrom(3);
  const planes = Object.fromEntries(
    [...'RGBA'].map((c) => [c, Float32Array.from({ length: width * height }, () => random() ** 3 * 4)]),
  );
  const plan = compile([entry('beauty'), finish('blur', { size })], { alphaFrom: { sourceId: 's', pass: 'beauty' } });
  const got = evaluated(
    plan,
    inputsOf(plan, (n) => planes[n.at(-1)!]!),
    { width, height },
  );

  test('is the sampled Gaussian, cut beyond 3.5 deviations, of colour and alpha, edge lines repeated: summed here in two dimensions', () => {
    const reach = Math.ceil(3.5 * size);
    const weight = (d: number) => Math.exp((-d * d) / (2 * size * size));
    let sum = 0;
    for (let d = -reach; d <= reach; d++) sum += weight(d);
    const at = (c: string, x: number, y: number) =>
      planes[c]![Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!;
    for (const [x, y] of [
      [0, 0],
      [20, 15],
      [39, 29],
      [3, 28],
      [38, 1],
    ] as const)
      [...'RGBA'].forEach((c, k) => {
        let want = 0;
        for (let dy = -reach; dy <= reach; dy++)
          for (let dx = -reach; dx <= reach; dx++) want += (weight(dx) * weight(dy) * at(c, x + dx, y + dy)) / sum ** 2;
        expect(Math.abs(got[k]![y * width + x]! - want)).toBeLessThan(2e-6 * Math.max(1, want));
      });
  });

  test('keeps what is even, to rounding, whatever its size', () => {
    const even = compile([entry('light'), finish('blur', { size: 60 })], { alphaFrom: null });
    const [r] = evaluated(
      even,
      inputsOf(even, () => new Float32Array(width * height).fill(0.3)),
      { width, height },
    );
    r!.forEach((v) => expect(Math.abs(v - 0.3)).toBeLessThan(1e-6));
  });
});

test('sharpen is v + amount · (v − blurred), on colour alone', () => {
  const [width, height] = [30, 20];
  const random = randomFrom(4);
  const planes = Object.fromEntries([...'RGBA'].map((c) => [c, Float32Array.from({ length: width * height }, random)]));
  const run = (kind: string, more: object) => {
    const plan = compile([entry('beauty'), finish(kind, more)]);
    return evaluated(
      plan,
      inputsOf(plan, (n) => planes[n.at(-1)!]!),
      { width, height },
    );
  };
  const [soft, sharp] = [run('blur', { size: 1.5 }), run('sharpen', { size: 1.5, amount: 0.8 })];
  for (const [k, c] of [...'RGB'].entries())
    sharp[k]!.forEach((v, i) => expect(v).toBeCloseTo(planes[c]![i]! + 0.8 * (planes[c]![i]! - soft[k]![i]!), 5));
  expect([...sharp[3]!]).toEqual([...planes.A!]);
});

describe('glow', () => {
  const [width, height] = [96, 64];
  const spot = () => {
    const plane = new Float32Array(width * height);
    plane[32 * width + 48] = 1000;
    return plane;
  };
  const run = (more: object) => {
    const plan = compile([entry('light'), finish('glow', { size: 2, amount: 1, threshold: 1, ...more })], {
      alphaFrom: null,
    });
    return evaluated(plan, inputsOf(plan, spot), { width, height })[0]!;
  };

  test('spreads what lies above its threshold, keeps its sum, and falls with the distance', () => {
    const glowing = run({});
    const spread = glowing.map((v, i) => v - spot()[i]!);
    // A little passes the picture's edges, where lines are repeated.
    expect(spread.reduce((a, b) => a + b, 0) / 999).toBeCloseTo(1, 1);
    const at = (d: number) => spread[32 * width + 48 + d]!;
    expect(at(2) > at(6) && at(6) > at(14) && at(14) > at(30) && at(30) > 0).toBe(true);
    // About the square of the distance: CIE 135/1-1999.
    expect(at(6) / at(24)).toBeGreaterThan(6);
    expect(at(6) / at(24)).toBeLessThan(40);
  });

  test('what is below the threshold is left alone', () => {
    expect([...run({ threshold: 1000 })]).toEqual([...spot()]);
  });

  test('its spread is as colourful as is said, and as bright', () => {
    const red = (name: string) => (name.endsWith('R') ? spot() : new Float32Array(width * height));
    const planesOf = (saturation: number) => {
      const plan = compile([entry('light'), finish('glow', { size: 2, amount: 1, threshold: 1, saturation })], {
        alphaFrom: null,
      });
      return { planes: evaluated(plan, inputsOf(plan, red), { width, height }), weights: plan.luminance };
    };
    const [grey, own] = [planesOf(0), planesOf(1)];
    const at = 36 * width + 50;
    const brightness = ({ planes, weights }: typeof grey) =>
      weights.reduce((sum, w, c) => sum + w * planes[c]![at]!, 0);
    expect(grey.planes[1]![at]).toBeCloseTo(grey.planes[0]![at]!, 6);
    expect(own.planes[1]![at]).toBe(0);
    expect(brightness(grey)).toBeCloseTo(brightness(own), 6);
  });
});

describe('glare', () => {
  const [width, height] = [129, 129];
  const spot = () => {
    const plane = new Float32Array(width * height);
    plane[64 * width + 64] = 1000;
    return plane;
  };
  const streaksOf = (more: object) => {
    const plan = compile(
      [entry('light'), finish('glare', { amount: 1, length: 20, threshold: 1, streaks: 2, angle: 0, ...more })],
      { alphaFrom: null },
    );
    return evaluated(plan, inputsOf(plan, spot), { width, height })[0]!.map((v, i) => v - spot()[i]!);
  };

  test('a bright point draws a streak along each direction, and keeps its light', () => {
    const spread = streaksOf({});
    expect(spread.reduce((a, b) => a + b, 0) / 999).toBeCloseTo(1, 2);
    const at = (x: number, y: number) => spread[(64 + y) * width + 64 + x]!;
    expect(at(10, 0)).toBeGreaterThan(1);
    expect(at(-10, 0)).toBeCloseTo(at(10, 0), 3);
    expect(at(0, 10)).toBe(0);
    // A hundredth is left at its length: half as far a tenth.
    expect(at(20, 0) / at(0, 0)).toBeLessThan(0.02);
    expect(at(15, 0) / at(5, 0)).toBeCloseTo(0.1, 1);
  });

  test('turned, its streaks go where they are turned to', () => {
    const spread = streaksOf({ streaks: 1, angle: 90 });
    const at = (x: number, y: number) => spread[(64 + y) * width + 64 + x]!;
    expect(at(0, -8)).toBeGreaterThan(1);
    expect(Math.abs(at(0, 8)) + Math.abs(at(8, 0)) + Math.abs(at(-8, 0))).toBeLessThan(1e-3);
  });

  test('what is below the threshold is left alone', () => {
    expect(streaksOf({ threshold: 1000 }).every((v) => v === 0)).toBe(true);
  });
});

describe('a source of another size', () => {
  const [w, h] = [40, 30];
  const random = randomFrom(8);
  const plane = Float32Array.from({ length: w * h }, random);
  const small = (placement?: object) =>
    source({ size: { width: w, height: h }, ...(placement ? { placement: placement as never } : {}) });
  const placed = (placement: object | undefined, into: { width: number; height: number }, pass = 'beauty') => {
    const plan = compile(
      [entry(pass, { operation: pass === 'depth' ? 'multiply' : 'replace' })],
      { alphaFrom: null },
      { sources: [small(placement)], size: into },
    );
    return evaluated(
      plan,
      inputsOf(plan, () => plane, { window: { x: 0, y: 0, width: w, height: h } }),
      into,
    );
  };

  test('is centred to the bit, transparent around; shifts go right and down; a larger one is cropped', () => {
    const into = { width: 46, height: 36 };
    const [r, , , a] = placed(undefined, into);
    const [moved] = placed({ scale: 1, shift: [2, -1] }, into);
    for (let y = 0; y < 36; y++)
      for (let x = 0; x < 46; x++) {
        const inside = x >= 3 && y >= 3 && x < 43 && y < 33;
        expect(r![y * 46 + x]).toBe(inside ? plane[(y - 3) * w + x - 3] : 0);
        if (!inside) expect(a![y * 46 + x]).toBe(0);
        const from = x >= 5 && y >= 2 && x < 45 && y < 32;
        expect(moved![y * 46 + x]).toBe(from ? plane[(y - 2) * w + x - 5] : 0);
      }
    const [cropped] = placed(undefined, { width: 10, height: 10 });
    for (let y = 0; y < 10; y++)
      for (let x = 0; x < 10; x++) expect(cropped![y * 10 + x]).toBe(plane[(y + 10) * w + x + 15]);
  });

  test('pixels wider than the shot’s are laid out wide: twice as wide is what scaling a row by two makes of it', () => {
    const into = { width: 2 * w, height: h };
    const sources = (pixelAspect: number) => [
      source({ id: 'plate', size: into, pixelAspect: 1 }),
      source({ size: { width: w, height: h }, pixelAspect }),
    ];
    const drawn = (pixelAspect: number) => {
      const plan = compile(
        [entry('beauty', { operation: 'replace' })],
        { alphaFrom: null },
        { sources: sources(pixelAspect), size: into },
      );
      return evaluated(
        plan,
        inputsOf(plan, () => plane, { window: { x: 0, y: 0, width: w, height: h } }),
        into,
      );
    };
    const [wide] = drawn(2);
    // A whole sample's middle lies between two columns: by the filter's own weights of the samples beside it.
    const [y, x] = [12, 41];
    const at = (x + 0.5) / 2 - 0.5;
    let sum = 0;
    for (let j = Math.floor(at) - 1; j <= Math.floor(at) + 2; j++) sum += mitchell(j - at) * plane[y * w + j]!;
    expect(wide![y * into.width + x]).toBeCloseTo(sum, 5);
    // As wide as the shot's own, it is centred.
    expect(drawn(1)[3]![0]).toBe(0);
  });

  test('fit shows all of a source, fill covers all of the picture', () => {
    const into = { width: 192, height: 108 };
    expect(placementTo('fit', { width: 96, height: 27 }, into)).toEqual({ scale: 2, shift: [0, 0] });
    expect(placementTo('fill', { width: 96, height: 27 }, into)).toEqual({ scale: 4, shift: [0, 0] });
    expect(placementTo('fit', { width: 96, height: 27 }, into, 2).scale).toBe(1);
  });

  test('the filter is that of Mitchell and Netravali 1988: its values at 0, 1, 2 and its sum', () => {
    expect([mitchell(0), mitchell(1), mitchell(-1), mitchell(2)]).toEqual([
      8 / 9,
      expect.closeTo(1 / 18, 12),
      expect.closeTo(1 / 18, 12),
      0,
    ]);
    for (const x of [0, 0.1, 0.37, 0.5, 0.9])
      expect([-2, -1, 0, 1, 2].reduce((s, k) => s + mitchell(x + k), 0)).toBeCloseTo(1, 12);
  });

  test.each([2, 1.5, 0.5, 0.4])(
    'scaled by %f it is what the reference image library makes, away from the edges',
    (scale) => {
      const into = { width: Math.round(w * scale), height: Math.round(h * scale) };
      const [r] = placed({ scale, shift: [0, 0] }, into);
      const script = [
        'import sys, json, numpy, OpenImageIO as oiio',
        'job = json.load(sys.stdin)',
        'spec = oiio.ImageSpec(job["w"], job["h"], 1, "float")',
        'src = oiio.ImageBuf(spec)',
        'src.set_pixels(oiio.ROI(0, job["w"], 0, job["h"]), numpy.array(job["plane"], dtype="float32").reshape(job["h"], job["w"], 1))',
        'dst = oiio.ImageBufAlgo.resize(src, filtername="mitchell", roi=oiio.ROI(0, job["W"], 0, job["H"], 0, 1, 0, 1))',
        'print(json.dumps(dst.get_pixels(oiio.FLOAT).ravel().tolist()))',
      ];
      const input = JSON.stringify({ w, h, W: into.width, H: into.height, plane: [...plane] });
      const want = JSON.parse(
        execFileSync('/usr/bin/python3', ['-c', script.join('\n')], { input }).toString(),
      ) as number[];
      const edge = Math.ceil(2 * Math.max(1, scale)) + 1;
      let compared = 0;
      for (let y = edge; y < into.height - edge; y++)
        for (let x = edge; x < into.width - edge; x++, compared++)
          expect(Math.abs(r![y * into.width + x]! - want[y * into.width + x]!)).toBeLessThan(2e-5);
      expect(compared).toBeGreaterThan(0);
    },
  );

  test('numbers that are no light are never mixed', () => {
    const plan = compile(
      [
        entry('white', { kind: 'fill', colour: [1, 1, 1], alpha: 1, operation: 'replace' }),
        entry('depth', { operation: 'multiply' }),
      ],
      { alphaFrom: null },
      { sources: [small({ scale: 1.7, shift: [0.3, 0] })], size: { width: 70, height: 50 } },
    );
    const [r] = evaluated(
      plan,
      inputsOf(plan, () => plane, { window: { x: 0, y: 0, width: w, height: h } }),
      { width: 40, height: 30 },
    );
    const known = new Set([0, ...plane]);
    expect([...r!].every((v) => known.has(v))).toBe(true);
    expect(new Set(r).size).toBeGreaterThan(50);
  });
});
