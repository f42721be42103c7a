import { beforeEach, describe, expect, test } from '@jest/globals';
import {
  builtinColour,
  compilePlan,
  ContentKeys,
  emptyWhole,
  numberToHalf,
  planSource,
  wholeNodes,
  type Entry,
  type LedgerDocument,
  type Plan,
} from '@june-haze/core';
import type { FromWorker, PictureJob, Task, ToWorker } from '../src/viewer/engine/messages.ts';

// The worker itself, with a page that stands in.
let said: FromWorker[] = [];
const worker = {
  onmessage: undefined as unknown as (event: { data: ToWorker }) => void,
  postMessage: (message: FromWorker) => void said.push(message),
};
Object.assign(globalThis, { self: worker });
await import('../src/viewer/engine/pictureWorker.ts');

const [width, height] = [16, 64];
const pass = (name: string, role: 'beauty' | 'diffuse') => ({
  name,
  role,
  part: 0,
  channels: [...'RGBA'].map((c) => ({ component: c, name: `${name}.${c}`, type: 'half' as const })),
});
const source = planSource({
  id: 's',
  name: 'landing',
  declaredSpace: 'Linear Rec.709',
  alpha: 'straight',
  width,
  height,
  pixelAspect: 1,
  still: false,
  firstFrame: 1,
  lastFrame: 1,
  reading: { placement: null, beyond: 'stop' },
  passes: [pass('beauty', 'beauty'), pass('light', 'diffuse')],
});
const entry = (name: string, more: object = {}) =>
  ({
    id: name,
    name,
    kind: 'pass',
    sourceId: 's',
    pass: name,
    enabled: true,
    operation: 'over',
    mix: 1,
    adjustments: [],
    ...more,
  }) as Entry;
const exposure = (stops: number) => [{ kind: 'exposure', enabled: true, stops }] as never;
const blur = (size: number) =>
  ({ id: 'soft', name: 'soft', kind: 'finish', finish: 'blur', enabled: true, size, mix: 1 }) as never;
const glow = {
  id: 'glow',
  name: 'glow',
  kind: 'finish',
  finish: 'glow',
  enabled: true,
  amount: 0.5,
  size: 16,
  threshold: 0.3,
  mix: 1,
} as never;
const plan = (...entries: Entry[]): Plan => compilePlan({ version: 2, entries } as LedgerDocument, [source], 'ACEScg');

const untoned = (exposure = 0): PictureJob['showing'] => ({
  viewing: { display: 'sRGB', view: 'Untoned', exposure },
  off: [],
});

const keys = new ContentKeys();
let number = 1;
function job(of: Plan, more: Partial<PictureJob> = {}): PictureJob {
  const places = of.inputs.map(({ colour, alpha }) => ({
    colour,
    ...(alpha ? { alpha: alpha.channel } : {}),
    window: { x: 0, y: 0, width, height },
    data: { x: 0, y: 0, width, height },
  }));
  return {
    number: number++,
    plan: of,
    inputs: places,
    keys: keys.of(
      of,
      places.map((p) => JSON.stringify(p)),
    ),
    whole: new Map(),
    workingSpace: 'ACEScg',
    showing: untoned(),
    colour: builtinColour,
    inspection: { kind: 'colour' },
    warn: [],
    scopes: undefined,
    show: 'total',
    level: 0,
    width,
    height,
    ...more,
  };
}
async function ask<K extends Task['kind']>(task: Extract<Task, { kind: K }>): Promise<FromWorker> {
  said = [];
  worker.onmessage({ data: { ...task, id: 1 } as ToWorker });
  for (let i = 0; i < 200 && !said.length; i++) await new Promise((done) => setTimeout(done, 5));
  return said[0]!;
}
/** The codes of a picture, in blocks of so many rows. */
async function codes(of: PictureJob, rows = 16): Promise<Uint8Array> {
  const share = { rows, worker: 0, workers: 1, claims: undefined };
  const answer = await ask<'picture'>({ kind: 'picture', job: of, share, rgba: undefined });
  if (answer.kind !== 'picture') throw new Error(JSON.stringify(answer));
  return Uint8Array.from(answer.blocks.flatMap((b) => [...b.rgba]));
}

beforeEach(() => {
  const planes = ['beauty', 'light'].flatMap((name, p) =>
    [...'RGBA'].map((c, i): [string, Uint16Array] => [
      `${name}.${c}`,
      Uint16Array.from({ length: width * height }, (_, k) => numberToHalf(((k * (3 + i + 4 * p)) % 97) / 80)),
    ]),
  );
  worker.onmessage({ data: { kind: 'hold', planes } });
});

describe('a picture worker', () => {
  test('draws alpha as it is, of planes that it was told to hold', async () => {
    const shown = await codes(job(plan(entry('beauty')), { inspection: { kind: 'alpha' } }));
    expect(shown.length).toBe(width * height * 4);
    // Row 0, pixel 5: A is 5 * 6 / 80 = 0.375, code 96 (95.6 and a half, cut).
    expect([...shown.slice(20, 24)]).toEqual([96, 96, 96, 255]);
  });

  test('what is dropped is not there any more: a sentence, and the next picture is drawn all the same', async () => {
    worker.onmessage({ data: { kind: 'drop', keys: ['beauty.G'] } });
    const share = { rows: 16, worker: 0, workers: 1, claims: undefined };
    const answer = await ask<'picture'>({ kind: 'picture', job: job(plan(entry('beauty'))), share, rgba: undefined });
    expect(answer).toMatchObject({ kind: 'error', message: /not there any more/ });
    expect((await codes(job(plan(entry('light'))))).length).toBe(width * height * 4);
  });

  test('what is kept from one picture to the next changes no code of it, whatever moves', async () => {
    const rows = (a: number, b: number) => [
      entry('beauty', { adjustments: exposure(a) }),
      entry('light', { operation: 'plus', adjustments: exposure(b) }),
    ];
    // Each kind of move three times, so that what stands still is kept and used; then everything again in one block, kept by nobody.
    const moves: Plan[] = [
      ...[0, 0.1, 0.2].map((a) => plan(...rows(a, 1))),
      ...[0.3, 0.4, 0.5].map((b) => plan(...rows(0.2, b))),
      ...[1, 2, 3].map((size) => plan(...rows(0.2, 0.5), blur(size))),
      ...[4, 5, 6].map((a) => plan(...rows(a / 10, 0.5), blur(3), entry('light', { id: 'again' }))),
    ];
    for (const [i, moved] of moves.entries()) {
      const alone = job(moved, { showing: untoned(0.5), level: 0 });
      const own = await codes(job(moved));
      const other = await codes(
        {
          ...alone,
          keys: alone.keys.map((k) => ({
            totals: k.totals.map(() => -number++),
            pictures: k.pictures.map(() => undefined),
          })),
          showing: untoned(),
        },
        height,
      );
      expect({ i, same: own.every((v, k) => v === other[k]) }).toEqual({ i, same: true });
    }
  });

  test('a view that cannot be made leaves nothing half written: the next pictures are as they were', async () => {
    const of = plan(entry('beauty'), entry('light', { operation: 'plus' }));
    const dark = { viewing: { display: 'sRGB', view: 'Untoned', exposure: -1 }, off: [] } as PictureJob['showing'];
    const through = async (showing: PictureJob['showing']) => [...(await codes(job(of, { showing })))];
    const before = { plain: await through(untoned()), dark: await through(dark), again: await through(untoned()) };
    const nowhere = { viewing: { display: 'Nowhere', view: 'None', exposure: 0 }, off: [] } as PictureJob['showing'];
    const failed = await ask<'sample'>({ kind: 'sample', job: job(of, { showing: nowhere }), shown: true });
    expect(failed).toMatchObject({ kind: 'error' });
    // Twice each: what is kept is made by the first and used by the second.
    for (let i = 0; i < 2; i++) {
      expect({ i, same: (await through(untoned())).join() === before.plain.join() }).toEqual({ i, same: true });
      expect({ i, same: (await through(dark)).join() === before.dark.join() }).toEqual({ i, same: true });
    }
    expect(before.again).toEqual(before.plain);
  });

  test('planes of other files are other pictures, though everything else is the same', async () => {
    const before = [await codes(job(plan(entry('beauty')))), await codes(job(plan(entry('beauty'))))];
    expect(before[0]).toEqual(before[1]);
    const dark = new Uint16Array(width * height);
    worker.onmessage({ data: { kind: 'hold', planes: [...'RGB'].map((c) => [`beauty.${c}`, dark] as const) } });
    const fresh = job(plan(entry('beauty')));
    const renamed = keys.of(
      fresh.plan,
      fresh.inputs.map(() => 'other files'),
    );
    expect(new Set(await codes({ ...fresh, keys: renamed }))).toEqual(new Set([0, 255]));
  });

  test('a glow is gathered in strips or at once, and looks the same', async () => {
    const of = job(plan(entry('beauty'), glow));
    const [node] = wholeNodes(of.plan);
    const glowing = async (rows: number) => {
      const into = emptyWhole(of.plan, node!, width, height, 0);
      const share = { rows, worker: 0, workers: 1, claims: undefined };
      await ask<'gather'>({ kind: 'gather', job: of, share, node: node!, into });
      await ask<'complete'>({ kind: 'complete', job: of, node: node!, into });
      return codes({ ...of, number: number++, whole: new Map([[node!, into]]) }, rows);
    };
    const [whole, strips] = [await glowing(64), await glowing(16)];
    expect(strips).toEqual(whole);
    expect(whole).not.toEqual(await codes(job(plan(entry('beauty')))));
  });

  test('shares are counted over any rows', async () => {
    const answer = await ask<'count'>({ kind: 'count', job: job(plan(entry('beauty'))), top: 10, end: 13 });
    expect(answer).toMatchObject({ kind: 'count', statistics: { total: { length: 3 } } });
  });

  test('the probe tells whose numbers it shows, as they are declared and in the working space', async () => {
    const told = await ask<'probe'>({
      kind: 'probe',
      job: job(plan(entry('beauty'))),
      region: { x: 2, y: 1, width: 1, height: 1 },
    });
    const at = width + 2;
    const declared = [3, 4, 5].map((k) => ((at * k) % 97) / 80);
    if (told.kind !== 'probe') throw new Error(JSON.stringify(told));
    expect(told.probe.declared!.sourceId).toBe('s');
    told.probe.declared!.values.forEach((v, c) => expect(v).toBeCloseTo(declared[c]!, 3));
    expect(told.probe.working[3]).toBeCloseTo(((at * 6) % 97) / 80, 3);
  });
});
