import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { landingConfig } from '../../core/test/config/configs.ts';

// Invented material, written by the reference image library and by ffmpeg; the form is that of docs/intake.md.
const top = mkdtempSync(join(tmpdir(), 'june-survey-'));
interface Found {
  sources: {
    id: string;
    pattern: string;
    view: string | null;
    kind: string;
    frames: [number, number];
    step: number;
    missing: number[];
    unreadable: number[];
    width: number;
    height: number;
    rate: number | null;
    codec: string;
    sampleType: string;
    alpha: string;
    passes: { name: string; role: string; channels: string[]; pattern: string }[];
    space: { guess: string | null; confidence: number; evidence: { from: string; says: string; agrees: boolean }[] };
  }[];
  problems: {
    kind: string;
    source: string;
    pass: string | null;
    file: string | null;
    frames: number[];
    sampled: boolean;
  }[];
}
const june = (...args: string[]) => spawnSync(join(process.cwd(), 'june'), ['survey', ...args], { encoding: 'utf8' });
const survey = (folder: string, ...more: string[]) =>
  JSON.parse(june(join(top, folder), '--json', ...more).stdout) as Found;
const problems = (found: Found) =>
  found.problems.map((p) => [p.kind, found.sources.find((s) => s.id === p.source)?.pattern, p.pass, p.frames]);
const guesses = (found: Found) => Object.fromEntries(found.sources.map((s) => [s.pattern, s.space.guess]));

beforeAll(() => {
  execFileSync('/usr/bin/python3', [join(process.cwd(), 'packages/cli/test/material.py'), top]);
  const movie = (name: string, ...how: string[]) =>
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=160x90:rate=25:duration=1'],
      ...how,
      join(top, 'kinds', name),
    ]);
  movie('m.mp4', '-pix_fmt', 'yuv420p', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709');
  movie('n.mov', '-c:v', 'prores_ks', '-pix_fmt', 'yuva444p10le');
  writeFileSync(join(top, 'kinds/half.mp4'), Buffer.alloc(5000, 7));
  mkdirSync(join(top, 'outside'));
  writeFileSync(join(top, 'outside/key.exr'), 'secret');
  symlinkSync(join(top, 'outside'), join(top, 'sound/out'));
  symlinkSync(join(top, 'sound'), join(top, 'sound/again'));
}, 60_000);
afterAll(() => rmSync(top, { recursive: true, force: true }));

test('sound material raises no alarm: fog, night, steps, pictures; hidden files and links outside are passed over', () => {
  const found = survey('sound', '--rate', '24');
  expect(problems(found)).toEqual([]);
  expect(found.sources.map((s) => [s.pattern, s.kind, s.frames, s.step])).toEqual([
    ['day.jpg', 'still', [1, 1], 1],
    ['fog.exr', 'still', [1, 1], 1],
    ['landing.####.exr', 'sequence', [1001, 1006], 1],
    ['night.exr', 'still', [1, 1], 1],
    ['night.png', 'still', [1, 1], 1],
    ['stepped_#.exr', 'sequence', [1, 19], 3],
  ]);
  expect(guesses(found)).toEqual({
    'day.jpg': 'sRGB',
    'fog.exr': 'ACEScg',
    'landing.####.exr': 'ACEScg',
    'night.exr': 'ACEScg',
    'night.png': 'sRGB',
    'stepped_#.exr': 'ACEScg',
  });
  const [landing] = found.sources.filter((s) => s.pattern.startsWith('landing'));
  expect(landing).toMatchObject({
    width: 160,
    height: 90,
    rate: 24,
    codec: 'zip',
    sampleType: 'half',
    alpha: 'premultiplied',
  });
  expect(landing!.space.confidence).toBeGreaterThan(0.8);
});

test('passes in files of their own are one source; plates, eyes and versions stay apart', () => {
  const found = survey('sets');
  expect(
    found.sources.map((s) => [s.pattern, s.view, s.passes.map((p) => `${p.name} ${p.role} ${p.pattern}`)]),
  ).toEqual([
    [
      'boat_{pass}.####.exr',
      null,
      [
        'beauty beauty boat_beauty.####.exr',
        'depth depth boat_depth.####.exr',
        'diffuse_direct diffuse-direct boat_diffuse_direct.####.exr',
        'rim other boat_rim.####.exr',
        'matte matte boat_matte.exr',
      ],
    ],
    ['eyes/buoy_left.###.exr', 'left', ['beauty beauty eyes/buoy_left.###.exr']],
    ['eyes/buoy_right.###.exr', 'right', ['beauty beauty eyes/buoy_right.###.exr']],
    ['kettle_v001.##.exr', null, ['beauty beauty kettle_v001.##.exr']],
    ['kettle_v002.##.exr', null, ['beauty beauty kettle_v002.##.exr']],
    [
      'pier/{pass}/pier.###.exr',
      null,
      ['beauty beauty pier/beauty/pier.###.exr', 'emission emission pier/emission/pier.###.exr'],
    ],
    ['plate.####.exr', null, ['beauty beauty plate.####.exr']],
  ]);
  expect(problems(found)).toEqual([]);
});

test('frames that are missing, empty, cut short, of another kind or copied are named exactly', () => {
  const found = survey('frames', '--rate', '24');
  expect(found.sources[0]).toMatchObject({ missing: [1005], unreadable: [1003, 1007, 1008] });
  expect(problems(found)).toEqual([
    ['missing-frames', 'a.####.exr', null, [1005]],
    ['truncated-frame', 'a.####.exr', null, [1003]],
    ['unreadable-frame', 'a.####.exr', null, [1007]],
    ['foreign-file', 'a.####.exr', null, [1008]],
    ['duplicate-frames', 'a.####.exr', null, [1010]],
    ['rate-mismatch', 'a.####.exr', null, []],
  ]);
  expect(found.problems.find((p) => p.kind === 'truncated-frame')!.file).toBe('a.1003.exr');
});

test('sizes, windows, channels and types that change within a sequence', () => {
  const found = survey('shapes');
  expect(problems(found)).toEqual([
    ['mixed-channels', 'channels.##.exr', null, [5]],
    ['size-mismatch', 'size.##.exr', null, [3]],
    ['mixed-types', 'types.##.exr', null, [6]],
    ['window-mismatch', 'window.##.exr', null, [4]],
  ]);
});

test('values that cannot be, seen in the sampled frames', () => {
  const found = survey('values');
  expect(problems(found).map(([kind, pattern]) => `${pattern} ${kind}`)).toEqual([
    'bad.exr non-finite',
    'bad.exr half-overflow',
    'bad.exr negative-values',
    'over.exr non-finite',
    'over.exr half-overflow',
  ]);
  expect(found.problems.every((p) => p.sampled)).toBe(true);
  expect(survey('values', '--full').problems.every((p) => !p.sampled)).toBe(true);
});

test('spaces: encoded pixels in an EXR, codes that are light, integers said to be linear, names against tags', () => {
  const found = survey('colour');
  expect(problems(found).map(([kind, pattern]) => `${pattern} ${kind}`)).toEqual([
    'eight.exr encoded-as-linear',
    'encoded.exr encoded-as-linear',
    'odd_srgb.exr space-contradiction',
    'plate_acescg.png integer-linear',
    'hasty.png linear-as-picture',
  ]);
  expect(guesses(found)).toMatchObject({
    'eight.exr': 'sRGB',
    'encoded.exr': 'sRGB',
    'odd_srgb.exr': 'ACEScg',
    'plate_acescg.png': 'ACEScg',
    'tagged.exr': 'Linear Rec.709',
  });
  const eight = found.sources.find((s) => s.pattern === 'eight.exr')!;
  expect(eight.space.evidence.map((e) => [e.from, e.agrees])).toEqual([
    ['pixels', true],
    ['kind of file', false],
  ]);
});

test('depth is reversed only where the position says so; soft edges tell straight from premultiplied', () => {
  const found = survey('meaning');
  expect(problems(found).map(([kind, pattern]) => `${pattern} ${kind}`)).toEqual([
    'reversed.exr depth-reversed',
    'straight.exr alpha-mismatch',
  ]);
});

describe('other kinds of files', () => {
  let found: Found;
  beforeAll(() => {
    found = survey('kinds');
  });

  test('what they are', () => {
    const facts = found.sources.map((s) => [s.pattern, s.kind, s.codec, s.sampleType, s.alpha, s.rate, s.frames[1]]);
    expect(facts).toEqual([
      ['a.dpx', 'still', 'none', 'uint10', 'none', null, 1],
      ['a.hdr', 'still', 'rgbe', 'float', 'none', null, 1],
      ['a.tif', 'still', 'deflate', 'float', 'none', null, 1],
      ['b.tif', 'still', 'deflate', 'uint16', 'none', null, 1],
      ['half.mp4', 'still', 'unknown', 'mixed', 'none', null, 1],
      ['m.mp4', 'movie', 'h264', 'uint8', 'none', 25, 25],
      ['n.mov', 'movie', 'prores', 'uint12', 'straight', 25, 25],
    ]);
  });

  test('what space they are likely in; a DPX without a word is a log by its pixels', () => {
    expect(guesses(found)).toMatchObject({
      'a.dpx': 'ACEScct',
      'a.hdr': 'Linear Rec.709',
      'a.tif': 'Linear Rec.709',
      'b.tif': 'sRGB',
      'm.mp4': 'Rec.709',
    });
    expect(problems(found).map(([kind, pattern]) => `${pattern} ${kind}`)).toEqual(['half.mp4 foreign-file']);
  });
});

test('a config’s file rules are evidence and its names are used; bad calls are one line', () => {
  const config = join(top, 'config.ocio');
  writeFileSync(config, landingConfig);
  const found = survey('sound', '--config', config);
  const evidence = found.sources.flatMap((s) => s.space.evidence);
  expect(evidence.some((e) => e.from === 'config’s file rules')).toBe(true);
  const bad = [june(join(top, 'nothing')), june(join(top, 'config.ocio')), june(join(top, 'sound'), '--rate', 'fast')];
  for (const { status, stderr } of bad) {
    expect(status).toBe(1);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  }
});
