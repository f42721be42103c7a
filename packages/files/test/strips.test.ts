import { describe, expect, test } from '@jest/globals';
import { compilePlan, Heap, createWasmKernels, type Entry, type PlanSource } from '@june-haze/core';
import { decodedPart, evaluateStrips, RowStream, type OpenPart } from '../src/index.ts';

const [width, height] = [64, 700];
/** So little that the picture does not fit at once. */
const memory = 1 << 19;
const passes = ['a', 'b', 'c'].map((name) => ({
  name,
  role: 'other' as const,
  part: 0,
  channels: [...'RGB'].map((c) => ({ component: c, name: `${name}.${c}`, type: 'float' as const })),
}));
const source: PlanSource = { id: 's', name: 'wide', space: 'ACEScg', passes };
const common = { enabled: true, mix: 1 };
const entry = (pass: string, more: object = {}): Entry =>
  ({
    ...common,
    id: pass,
    name: pass,
    kind: 'pass',
    sourceId: 's',
    pass,
    operation: 'plus',
    adjustments: [],
    ...more,
  }) as Entry;
const glow = { ...common, id: 'g', name: 'Glow', kind: 'finish', finish: 'glow', size: 30, threshold: 0.5 } as Entry;
const blur = { ...common, id: 'f', name: 'Blur', kind: 'finish', finish: 'blur', size: 3 } as Entry;

/** A wide picture whose samples tell where they are. */
function wide(asked: [number, number][] = [], closed: string[] = []): OpenPart {
  const plane = (seed: number) => Float32Array.from({ length: width * height }, (_, i) => ((i * seed) % 1009) / 700);
  const planes = Object.fromEntries(passes.flatMap((p, i) => p.channels.map((c, k) => [c.name, plane(3 + i * 3 + k)])));
  const part = decodedPart('wide.exr', { width, height, planes });
  return {
    ...part,
    read: (channels, top, end) => {
      asked.push([top, end]);
      return part.read(channels, top, end);
    },
    close: () => Promise.resolve(void closed.push('closed')),
  };
}
const plan = (entries: Entry[]) => compilePlan({ version: 2, entries, alphaFrom: null }, [source], 'ACEScg');

describe('a frame in strips', () => {
  test('every row comes once and in order, from no more rows than a strip and its surroundings; parts are opened once and closed', async () => {
    const [asked, closed]: [[number, number][], string[]] = [[], []];
    let opened = 0;
    let next = 0;
    const strips: number[] = [];
    await evaluateStrips({
      plan: plan([entry('a'), entry('b'), entry('c'), blur]),
      heap: new Heap(createWasmKernels()),
      size: { width, height },
      memory,
      open: () => Promise.resolve((opened++, wide(asked, closed))),
      onBand: (row, rows) => {
        expect(row).toBe(next);
        next = row + rows;
      },
      onStrip: (top, end) => Promise.resolve(void strips.push(end - top)),
    });
    expect([next, opened, closed]).toEqual([height, 1, ['closed']]);
    expect(strips.length).toBeGreaterThan(1);
    // Gaussian of 3: eleven rows on each side.
    asked.forEach(([top, end], i) => expect(end - top).toBeLessThanOrEqual(strips[i]! + 22));
  });

  test('a glow gathers the picture strip by strip first: the same bits as at once', async () => {
    const total = async (more: object) => {
      const red = new Float32Array(width * height);
      await evaluateStrips({
        plan: plan([entry('a'), glow, entry('b')]),
        heap: new Heap(createWasmKernels()),
        size: { width, height },
        open: () => Promise.resolve(wide()),
        onBand: (row, count, [r], heap) => red.set(heap.floats(r, count * width), row * width),
        ...more,
      });
      return red;
    };
    expect(await total({ memory })).toEqual(await total({}));
  });

  test('a picture of another size is refused by name, and what was opened is closed', async () => {
    const closed: string[] = [];
    const asked = evaluateStrips({
      plan: plan([entry('a')]),
      heap: new Heap(createWasmKernels()),
      size: { width: 10, height: 10 },
      open: () => Promise.resolve(wide([], closed)),
      onBand: () => undefined,
    });
    await expect(asked).rejects.toThrow(/wide\.exr: it is 64×700, its source 10×10/);
    expect(closed).toEqual(['closed']);
  });
});

describe('rows handed over', () => {
  test('the maker waits until they were taken, the writer until they are there', async () => {
    const stream = new RowStream<string>();
    const told: string[] = [];
    const made = (async () => {
      await stream.give(0, 4, 'first');
      told.push('first taken');
      await stream.give(4, 6, 'second');
      told.push('second taken');
    })();
    expect((await stream.at(0)).rows).toBe('first');
    expect((await stream.at(3)).rows).toBe('first');
    expect(told).toEqual([]);
    expect((await stream.at(4)).rows).toBe('second');
    expect(told).toEqual(['first taken']);
    stream.finish();
    await made;
    expect(told).toEqual(['first taken', 'second taken']);
  });

  test('when one side fails the other ends with its error', async () => {
    const stream = new RowStream<string>();
    const waiting = stream.at(0);
    stream.fail(new Error('the disk is full'));
    await expect(waiting).rejects.toThrow('the disk is full');
    await expect(stream.give(0, 1, 'rows')).rejects.toThrow('the disk is full');
  });
});
