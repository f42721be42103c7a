import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { resizePlane } from '../../src/image/resize.ts';

const [width, height] = [40, 24];
/** Light with soft and hard places. */
const light = Float32Array.from({ length: width * height }, (_, i) => {
  const [x, y] = [i % width, Math.floor(i / width)];
  return 0.2 + 0.1 * Math.sin(x / 3) + 0.05 * Math.cos(y / 2) + (x > 25 && y > 10 ? 2 : 0);
});
const whole = { x: 0, y: 0, width, height };

describe('a plane in another size', () => {
  test('of its own size is itself, and a part is cut out sample for sample', () => {
    expect(resizePlane(light, width, whole, whole)).toEqual(light);
    const part = { x: 5, y: 3, width: 11, height: 7 };
    const cut = resizePlane(light, width, part, part);
    for (let y = 0; y < 7; y++)
      for (let x = 0; x < 11; x++) expect(cut[y * 11 + x]).toBe(light[(y + 3) * width + x + 5]);
  });

  test.each([
    [20, 12],
    [13, 31],
    [97, 50],
  ])('what is even stays even to the border, at %d×%d', (w, h) => {
    const even = resizePlane(new Float32Array(width * height).fill(0.37), width, whole, { width: w, height: h });
    expect(even).toHaveLength(w * h);
    for (const v of even) expect(v).toBeCloseTo(0.37, 6);
  });

  test('its mean stays where it is made smaller, whatever lies in it', () => {
    const mean = (p: Float32Array) => p.reduce((a, b) => a + b, 0) / p.length;
    expect(mean(resizePlane(light, width, whole, { width: 20, height: 12 }))).toBeCloseTo(mean(light), 2);
  });

  test.each([
    [20, 12],
    [16, 8],
    [80, 48],
    [50, 30],
  ])('is what the reference image library makes of it with the same filter, at %d×%d', (w, h) => {
    const script = `
import sys, numpy, OpenImageIO as o
a = numpy.frombuffer(sys.stdin.buffer.read(), dtype="float32").reshape(${height}, ${width}, 1)
spec = o.ImageSpec(${width}, ${height}, 1, "float")
b = o.ImageBuf(spec); b.set_pixels(o.ROI(0, ${width}, 0, ${height}, 0, 1, 0, 1), numpy.ascontiguousarray(a))
r = o.ImageBufAlgo.resize(b, "mitchell", 0.0, o.ROI(0, ${w}, 0, ${h}, 0, 1, 0, 1))
sys.stdout.buffer.write(r.get_pixels(o.FLOAT).astype("float32").tobytes())
`;
    const bytes = execFileSync('/usr/bin/python3', ['-c', script], { input: Buffer.from(light.buffer) });
    const wanted = new Float32Array(new Uint8Array(bytes).buffer);
    const made = resizePlane(light, width, whole, { width: w, height: h });
    // At the border each has its own way.
    const rim = Math.ceil((2 * Math.max(w, width)) / width) + 2;
    for (let y = rim; y < h - rim; y++)
      for (let x = rim; x < w - rim; x++) expect(Math.abs(made[y * w + x]! - wanted[y * w + x]!)).toBeLessThan(2e-4);
  });
});
