import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CodeEncoding } from '@june-haze/core';
import { sourceReadingSchema, type OutputSettings, type Run, type Shot } from '@june-haze/contract';
import { preCheck } from '../src/shots/preCheck/preCheck.ts';
import { rebuildSource } from '../src/shots/ledger.ts';
import { landingShot, landingSource, masterSettings, plainViewing } from './landing.ts';

let folder: string;
const colours = { hasTwin: true, display: 'srgb' as const, viewIsLinear: false, others: {} };
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-outputs-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A run of two frames that took 3 and 5 s. */
const lastRun = (change: Partial<Run>): Run => {
  const frame = { state: 'done' as const, message: null, readBack: null, by: null };
  return {
    id: 'run',
    outputId: 'output',
    state: 'done',
    message: null,
    startedAt: '',
    finishedAt: '',
    changedSince: [],
    frames: [
      { ...frame, frame: 1001, milliseconds: 3000, bytes: 2e6 },
      { ...frame, frame: 1002, milliseconds: 5000, bytes: 4e6 },
      { ...frame, frame: 1003, state: 'failed', message: 'x', milliseconds: null, bytes: null },
    ],
    ...change,
  };
};

const shown = (change: Partial<OutputSettings>) => ({ ...masterSettings, ...change });
describe('pre-check', () => {
  const source = landingSource({ damaged: [{ frame: 1002, message: 'ends early' }] });
  const document = rebuildSource(source, 'components');
  const ledger = { ...landingShot().ledger, document };
  const texts = (shot: Shot, change: Partial<OutputSettings> = {}) =>
    preCheck(shot, shown(change), 'landing/x.####.exr', folder, colours).items.map((i) => `${i.weight}: ${i.text}`);

  test('an empty ledger and a range that runs backwards stop', () => {
    const all = texts(landingShot(), { firstFrame: 5, lastFrame: 3 });
    expect(all).toContain('stop: The ledger is empty: there is nothing to write. Build the picture first.');
    expect(all).toContain('stop: The range 5–3 runs backwards.');
  });

  test('missing, damaged and outside frames are counted within the range only', () => {
    const shot = landingShot({ sources: [source], ledger });
    expect(texts(shot)).toEqual(
      expect.arrayContaining([
        expect.stringContaining('1 missing frame in the range will fail'),
        expect.stringContaining('1 damaged frame in the range will fail'),
      ]),
    );
    expect(texts(shot, { firstFrame: 1001, lastFrame: 1001 }).join()).not.toMatch(/missing|damaged/);
    const held = landingSource({ missing: [1003], reading: sourceReadingSchema.parse({ onFault: 'hold' }) });
    expect(texts({ ...shot, sources: [held] }).join()).toMatch(
      /1 missing frame in the range will hold the last good one/,
    );
    expect(texts(shot, { lastFrame: 1010 }).join()).toContain('has frames 1001–1004 only');
  });

  test('a source that the ledger does not use raises nothing', () => {
    const shot = landingShot({ sources: [source, landingSource({ id: 'other', confirmed: false })], ledger });
    expect(texts(shot).join()).not.toContain('not confirmed');
  });

  test('an unconfirmed space, a baked exposure and a total that differs are said', () => {
    const shot = landingShot({
      sources: [landingSource({ confirmed: false })],
      ledger,
      viewing: { ...plainViewing, exposure: 1.5 },
      balances: [
        {
          frame: 1001,
          revision: 1,
          largest: 1,
          at: [0, 0],
          mean: 0.1,
          share: 0.034,
          overShare: 1,
          balanced: false,
        },
      ],
    });
    const all = texts(shot, { kind: 'png' }).join('\n');
    expect(all).toContain('its space (ACEScg) is not confirmed by a person');
    expect(all).toContain('warning: The viewing exposure of 1.5 stops is baked into these files.');
    expect(all).toContain('differs from the beauty by 3.4 %');
    expect(texts(shot).join('\n')).not.toContain('baked');
  });

  test('files that may not fit where they go are said before they are written', () => {
    const shot = landingShot({ sources: [source], ledger, width: 1000, height: 500 });
    const of = (change: object, free: number) =>
      preCheck(shot, { ...masterSettings, ...change }, 'landing/x.####.exr', folder, colours, { free })
        .items.map((i) => `${i.weight}: ${i.text}`)
        .join('\n');
    // Four frames of half a million pixels, four halves each: 16 MB; in 16-bit pictures of three samples 12.
    expect(of({}, 15.9e6)).toContain('warning: The files may take up to 0.02 GB, and 0.02 GB are free there');
    expect(of({}, 16.1e6)).not.toContain('are free there');
    expect(of({ kind: 'tiff', bits: 16 }, 11.9e6)).toContain('are free there');
    expect(of({ kind: 'tiff', bits: 16 }, 12.1e6)).not.toContain('are free there');
  });

  test('files that would be replaced are counted', () => {
    mkdirSync(join(folder, 'landing'));
    for (const frame of [1001, 1004, 1005]) writeFileSync(join(folder, `landing/x.${frame}.exr`), '');
    const shot = landingShot({ sources: [source], ledger });
    expect(preCheck(shot, masterSettings, 'landing/x.####.exr', folder, colours).existing).toBe(2);
    const last = lastRun({ state: 'running' });
    expect(preCheck(shot, masterSettings, 'landing/x.####.exr', folder, colours, { last }).existing).toBe(0);
  });

  test('how long all takes and how large it is follows the last run, for as many frames as are set now', () => {
    const shot = landingShot({ sources: [source], ledger });
    const of = (change: Partial<OutputSettings>, threads: number, last: Run) =>
      preCheck(shot, { ...masterSettings, ...change }, 'landing/x.####.exr', folder, colours, { last, threads })
        .items.map((i) => i.text)
        .join('\n');
    const last = lastRun({ state: 'done' });
    // Two frames took 3 and 5 s, 2 and 4 MB: a hundred take 4 s each, 3 MB each.
    expect(of({ lastFrame: 1100 }, 1, last)).toContain('About 7 minutes on 1 thread and 300 MB, as its last run went.');
    expect(of({ lastFrame: 1020 }, 2, last)).toContain('About 40 s on 2 threads and 60 MB');
    // No more threads work than there are frames.
    expect(of({ lastFrame: 1001 }, 8, last)).toContain('About 4 s on 8 threads and 3.0 MB');
    expect(of({ lastFrame: 1020 }, 2, lastRun({ state: 'running' }))).not.toContain('as its last run went');
    expect(of({ lastFrame: 1020 }, 2, { ...last, frames: [] })).not.toContain('as its last run went');
  });
});

describe('what is put right by a click', () => {
  const source = landingSource();
  const ledger = { ...landingShot().ledger, document: rebuildSource(source, 'components') };
  const shot = (change: Partial<Shot> = {}) => landingShot({ sources: [source], ledger, ...change });
  const check = (of: Shot, change: Partial<OutputSettings>, known: Partial<typeof all> = {}) =>
    preCheck(of, shown(change), 'landing/x.####.exr', folder, { ...all, ...known }).items;
  const all = {
    hasTwin: true,
    display: 'srgb' as CodeEncoding | undefined,
    viewIsLinear: false,
    others: { srgb: { display: 'sRGB', view: 'ACES SDR' } },
  };
  const mends = (items: ReturnType<typeof check>, weight: string) =>
    items.filter((i) => i.weight === weight && i.mend).map((i) => i.mend);

  test('a DPX without a log space is stopped, and a plate’s own is offered', () => {
    expect(mends(check(shot(), { kind: 'dpx' }), 'stop')).toEqual([
      { words: 'Write in ACEScct', settings: { space: 'ACEScct' } },
    ]);
    const plate = landingSource({ declaredSpace: 'LogC4' });
    expect(mends(check(shot({ sources: [plate] }), { kind: 'dpx' }), 'stop')[0]?.settings).toEqual({ space: 'LogC4' });
    // Log in, linear out is said; log where nothing came in log, too.
    expect(mends(check(shot({ sources: [plate] }), { kind: 'exr' }), 'warning')[0]?.settings).toEqual({
      space: 'LogC4',
    });
    expect(mends(check(shot(), { kind: 'dpx', space: 'LogC4' }), 'warning')[0]?.settings).toEqual({
      kind: 'exr',
      space: null,
    });
    expect(mends(check(shot({ sources: [plate] }), { kind: 'dpx', space: 'LogC4' }), 'warning')).toEqual([]);
  });

  test('a view that leaves light linear never goes into pictures', () => {
    const [mend] = mends(check(shot(), { kind: 'png' }, { viewIsLinear: true }), 'stop');
    expect(mend).toEqual({
      words: 'See through sRGB · ACES SDR',
      viewing: { display: 'sRGB', view: 'ACES SDR' },
    });
    expect(check(shot(), { kind: 'exr' }, { viewIsLinear: true }).filter((i) => i.weight === 'stop')).toEqual([]);
  });

  test.each([
    ['pq', 'jpeg', 'h264', { kind: 'png', bits: 16 }],
    ['pq', 'tiff', 'h264', { kind: 'png', bits: 16 }],
    ['srgb', 'movie', 'prores', { codes: 'bt1886' }],
    ['p3Cinema', 'movie', 'vp9', { codes: 'bt1886' }],
  ] as const)('codes of %s cannot be said in a %s (%s): another way is offered', (display, kind, codec, settings) => {
    expect(mends(check(shot(), { kind, codec }, { display }), 'stop')[0]?.settings).toEqual(settings);
  });

  test('what each can say passes; a display that nobody knows does not', () => {
    const stops = (display: CodeEncoding | undefined, change: Partial<OutputSettings>) =>
      check(shot(), change, { display }).filter((i) => i.weight === 'stop').length;
    expect(stops('pq', { kind: 'png' })).toBe(0);
    expect(stops('pq', { kind: 'movie' })).toBe(0);
    expect(stops('p3Cinema', { kind: 'tiff' })).toBe(0);
    expect(stops('bt1886', { kind: 'movie', codec: 'prores' })).toBe(0);
    expect(stops('srgb', { kind: 'movie', codec: 'prores', codes: 'bt1886' })).toBe(0);
    expect(stops('pq', { kind: 'png', codes: 'srgb' })).toBe(1);
    expect(stops('srgb', { kind: 'png', codes: 'hlg' })).toBe(1);
    expect(stops('pq', { kind: 'movie', codes: 'hlg' })).toBe(0);
    expect(stops('hlg', { kind: 'sheet' })).toBe(0);
    expect(stops('hlg', { kind: 'sheet', sheetFile: 'jpeg' })).toBe(1);
    expect(stops(undefined, { kind: 'png' })).toBe(1);
  });

  test('a movie of odd sides is stopped where its codec halves colour; how long it is is said', () => {
    const odd = shot({ width: 961 });
    expect(mends(check(odd, { kind: 'movie', codes: 'bt1886' }), 'stop')).toEqual([
      { words: 'Write VP9', settings: { codec: 'vp9' } },
    ]);
    expect(check(odd, { kind: 'movie', codec: 'vp9' }).filter((i) => i.weight === 'stop')).toEqual([]);
    const covered = check(odd, { kind: 'movie', codec: 'prores', codes: 'bt1886', transparent: true });
    expect(covered.filter((i) => i.weight === 'stop')).toEqual([]);
    expect(covered.map((i) => i.text).join()).toMatch(
      /alpha it is written.*ProRes, 10 bits, colour and alpha at every pixel/,
    );
    const long = check(shot(), { kind: 'movie', firstFrame: 1, lastFrame: 150 }).map((i) => i.text);
    expect(long.join()).toContain('6.25 s at 24');
  });

  test('trims of the viewing, and the look, can be left out', () => {
    const trimmed = shot({ viewing: { ...plainViewing, exposure: 1, look: '+evening' } });
    expect(mends(check(trimmed, { kind: 'png', bakeLook: true }), 'warning')).toEqual([
      { words: 'Leave it out', settings: { bakeLook: false } },
      { words: 'View plainly', viewing: { exposure: 0, black: 0, white: 1, gamma: 1 } },
    ]);
  });

  test('a part that does not lie in the picture is stopped; sizes, parts and steps are said', () => {
    const outside = check(shot(), { crop: { x: 20, y: 0, width: 100, height: 10 } });
    expect(mends(outside, 'stop')).toEqual([{ words: 'Take all of it', settings: { crop: null } }]);
    const crop = { x: 3, y: 2, width: 10, height: 10 };
    const between = check(shot(), { crop, width: 15, keepWindow: true });
    expect(mends(between, 'stop')).toEqual([{ words: 'Let the part be the window', settings: { keepWindow: false } }]);
    expect(check(shot(), { crop, width: 15 }).some((i) => i.weight === 'stop')).toBe(false);
    expect(check(shot(), { crop, keepWindow: true }).map((i) => i.text)).toContain(
      'A part of the picture: 10×10 from 3, 2; data window from 3, 2 in a display window of ' +
        `${shot().width}×${shot().height}.`,
    );
    const { width, height } = shot();
    const texts = check(shot(), {
      crop: { x: 0, y: 0, width: width / 2, height },
      width: width / 4,
      step: 2,
      firstFrame: 1001,
      lastFrame: 1004,
    }).map((i) => i.text);
    expect(texts).toEqual(
      expect.arrayContaining([
        `A part of the picture: ${width / 2}×${height} from 0, 0.`,
        expect.stringContaining(`${width / 4}×${height / 2}, filtered in light`),
        'One frame of every 2, 2 in all.',
      ]),
    );
  });
});
