import { describe, expect, test } from '@jest/globals';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import type { Compression } from '../../src/exr/types.ts';
import { writeExr } from '../../src/exr/write.ts';
import { halfToNumber, numberToHalf } from '../../src/image/half.ts';
import { alphaVerdict, alphaVotes } from '../../src/intake/premultiplication.ts';
import { memorySink, memorySource, nodeCodec } from '../exr/surroundings.ts';

// Alpha is judged on soft edges, and what packing and resampling do to them must not turn the verdict round.

type Picture = { width: number; height: number; planes: Float32Array[] };
type Kind = 'premultiplied' | 'straight';

/** Buoys of several colours, grain and a gradient on them, soft edges of three pixels, on nothing. Colours are premultiplied or straight. */
function buoys(kind: Kind): Picture {
  const [width, height] = [192, 128];
  const planes = [0, 1, 2, 3].map(() => new Float32Array(width * height));
  let state = 5;
  const grain = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const [cx, cy] = [32 + 64 * Math.floor(x / 64), 32 + 64 * Math.floor(y / 64)];
    const a = Math.min(1, Math.max(0, (25 - Math.hypot(x - cx, y - cy)) / 3 + 0.5));
    planes[3]![i] = a;
    for (let c = 0; c < 3; c++) {
      const light = (0.15 + 0.9 * Math.abs(Math.sin(cx + cy * 2 + c))) * (1 + x / width) * (1 + 0.06 * grain());
      planes[c]![i] = light * (kind === 'premultiplied' ? a : a > 0 ? 1 : 0);
    }
  }
  return { width, height, planes };
}

async function packed({ width, height, planes }: Picture, compression: Compression): Promise<Picture> {
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const channels = ['R', 'G', 'B', 'A'].map((name) => ({ name, type: 'half' as const }));
  const halves = planes.map((p) => Uint16Array.from(p, numberToHalf));
  const sink = memorySink();
  await writeExr(
    sink,
    [{ compression, dataWindow: window, displayWindow: window, channels }],
    (_, top, bottom) => halves.map((p) => p.subarray(top * width, (bottom + 1) * width)),
    nodeCodec,
  );
  const file = await openExr(memorySource(sink.bytes()));
  const read = await readChannels(file, 0, ['R', 'G', 'B', 'A'], nodeCodec);
  return { width, height, planes: read.planes.map((p) => Float32Array.from(p as Uint16Array, halfToNumber)) };
}

/** Another size by a filter with negative lobes (Lanczos of three), which rings at edges: alpha leaves 0 to 1. */
function resampled({ width, height, planes }: Picture, scale: number): Picture {
  const lanczos = (t: number) =>
    t === 0 ? 1 : Math.abs(t) >= 3 ? 0 : (3 * Math.sin(Math.PI * t) * Math.sin((Math.PI * t) / 3)) / (Math.PI * t) ** 2;
  const along = (plane: Float32Array, w: number, h: number) => {
    // Along rows, turned on its side: twice makes both ways.
    const [out, size] = [new Float32Array(Math.round(w * scale) * h), Math.round(w * scale)];
    const wide = Math.max(1, 1 / scale);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < size; x++) {
        const at = (x + 0.5) / scale - 0.5;
        let [sum, weight] = [0, 0];
        for (let k = Math.ceil(at - 3 * wide); k <= at + 3 * wide; k++) {
          const m = lanczos((k - at) / wide);
          sum += m * plane[y * w + Math.min(w - 1, Math.max(0, k))]!;
          weight += m;
        }
        out[x * h + y] = sum / weight;
      }
    return out;
  };
  const [w, h] = [Math.round(width * scale), Math.round(height * scale)];
  return { width: w, height: h, planes: planes.map((p) => along(along(p, width, height), height, w)) };
}

const verdict = ({ width, height, planes: [r, g, b, a] }: Picture) =>
  alphaVerdict(alphaVotes([r!, g!, b!], a!, width, height));

describe.each(['premultiplied', 'straight'] as const)('%s colour', (kind) => {
  test('is told by its soft edges', () => expect(verdict(buoys(kind))).toBe(kind));

  test.each(['b44', 'b44a', 'dwaa', 'dwab', 'pxr24'] as const)('is not taken for the other after %s', async (codec) => {
    expect(verdict(await packed(buoys(kind), codec))).toBe(kind);
  });

  test.each([0.5, 0.77, 1.4])('is not taken for the other at %s of its size', (scale) => {
    const picture = resampled(buoys(kind), scale);
    // The filter rang.
    expect(Math.max(...picture.planes[3]!)).toBeGreaterThan(1.001);
    expect([kind, undefined]).toContain(verdict(picture));
  });
});

test('a hard edge, an empty alpha and a full one say nothing', () => {
  const { width, height, planes } = buoys('straight');
  const alphas = [(a: number) => (a > 0.5 ? 1 : 0), () => 0, () => 1];
  for (const of of alphas)
    expect(verdict({ width, height, planes: [...planes.slice(0, 3), planes[3]!.map(of)] })).toBeUndefined();
});
