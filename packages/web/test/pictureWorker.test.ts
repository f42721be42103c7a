import { beforeEach, expect, jest, test } from '@jest/globals';
import { builtinColour, compilePlan, numberToHalf, planSource, type Entry } from '@june-haze/core';
import type { FromWorker, PictureRequest, ToWorker } from '../src/viewer/messages.ts';

// The worker itself, with a server and a page that stand in.
const asked: URL[] = [];
let answer: (url: URL) => Response;
let said: FromWorker[] = [];
const worker = {
  onmessage: undefined as unknown as (event: { data: ToWorker }) => void,
  postMessage: (message: FromWorker) => void said.push(message),
};
Object.assign(globalThis, {
  self: worker,
  fetch: (path: string) => {
    const url = new URL(path, 'http://june');
    asked.push(url);
    return Promise.resolve(answer(url));
  },
});
await import('../src/viewer/pictureWorker.ts');

const pass = (name: string, role: 'beauty' | 'matte') => ({
  name,
  role,
  part: 0,
  channels: [...'RGBA'].map((c) => ({ component: c, name: `${name}.${c}`, type: 'half' as const })),
});
const source = planSource({
  id: 's',
  name: 'landing',
  declaredSpace: 'ACEScg',
  alpha: 'straight',
  passes: [pass('beauty', 'beauty'), pass('mask', 'matte')],
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
const request = (more: Partial<PictureRequest> = {}): PictureRequest => ({
  plan: compilePlan(
    { version: 1, entries: [entry('beauty'), entry('mask', { operation: 'multiply' })] },
    [source],
    'ACEScg',
  ),
  workingSpace: 'ACEScg',
  viewing: { display: 'sRGB', view: 'Untoned', exposure: 0 },
  colour: builtinColour,
  channel: 'alpha',
  show: 'total',
  frame: 1001,
  sourceFrames: {},
  stamps: { s: 'one' },
  size: { width: 8, height: 4 },
  level: 1,
  width: 4,
  height: 2,
  ...more,
});
/** Planes of one value for every channel, of a file of some size. */
const planes =
  (value: number, size = { width: 8, height: 4 }) =>
  (url: URL) => {
    const [top, end] = [Number(url.searchParams.get('top')), Number(url.searchParams.get('end'))];
    const channels = url.searchParams.getAll('channel');
    const samples = new Uint16Array((end - top) * 4 * channels.length).fill(numberToHalf(value));
    const header = {
      width: 4,
      rows: end - top,
      types: channels.map(() => 'half'),
      missing: [],
      file: 'landing.1001.exr',
      size,
      data: { x: 0, y: 0, width: 4, height: 2 },
    };
    return new Response(samples, { headers: { 'x-june-planes': encodeURIComponent(JSON.stringify(header)) } });
  };
async function ask(message: Partial<ToWorker>): Promise<FromWorker> {
  said = [];
  worker.onmessage({ data: { id: 1, kind: 'picture', request: request(), top: 0, end: 2, ...message } });
  for (let i = 0; i < 200 && !said.length; i++) await new Promise((done) => setTimeout(done, 10));
  return said[0]!;
}
beforeEach(() => {
  asked.length = 0;
  answer = planes(0.5);
  jest.restoreAllMocks();
});

test('alpha is made smaller as its colour is; data is never averaged; data has no alpha; each pass is asked for once', async () => {
  const drawn = await ask({});
  expect(drawn.kind).toBe('picture');
  const queries = asked.map((u) => [u.searchParams.getAll('channel').join(), u.searchParams.get('data')]);
  expect(queries.sort()).toEqual([
    ['beauty.A', '0'],
    ['beauty.R,beauty.G,beauty.B', '0'],
    ['mask.R,mask.G,mask.B', '1'],
  ]);
  // Alpha 0.5 everywhere stays 0.5: code 128.
  expect(new Set(new Uint8Array((drawn as { rgba: ArrayBuffer }).rgba))).toEqual(new Set([128, 255]));
});

test('what is held is not asked for again, until the source is another', async () => {
  await ask({ request: request({ stamps: { s: 'two' } }) });
  const first = asked.length;
  await ask({ request: request({ stamps: { s: 'two' } }) });
  expect(asked.length).toBe(first);
  await ask({ request: request({ stamps: { s: 'three' } }) });
  expect(asked.length).toBe(first * 2);
  expect(asked.every((u) => u.searchParams.has('stamp'))).toBe(true);
});

test('another size and lines that are missing are sentences, and the next picture is drawn all the same', async () => {
  answer = planes(0.5, { width: 6, height: 4 });
  const stamps = { s: 'four' };
  expect(await ask({ request: request({ stamps }) })).toMatchObject({
    kind: 'error',
    message: 'landing.1001.exr: it is 6×4, the shot 8×4: passes of one ledger must have one size.',
  });
  answer = () => new Response(JSON.stringify({ error: 'landing.1001.exr: frame 1001 is missing.' }), { status: 404 });
  expect(await ask({ request: request({ stamps }) })).toMatchObject({
    message: 'landing.1001.exr: frame 1001 is missing.',
  });
  answer = planes(0.5);
  expect((await ask({ request: request({ stamps }) })).kind).toBe('picture');
});

test('the probe tells whose numbers it shows, as they are declared and in the working space', async () => {
  const told = await ask({ kind: 'probe', request: request({ stamps: { s: 'five' } }), top: 1, end: 2, x: 2 });
  expect(told).toMatchObject({
    kind: 'probe',
    probe: { declared: { sourceId: 's', values: [0.5, 0.5, 0.5] }, working: [0.125, 0.125, 0.125, 0.5] },
  });
});
