import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { writeBundle } from '@june-haze/core';
import { write } from '../../core/test/config/compare.ts';
import { landingConfig, landingFiles } from '../../core/test/config/configs.ts';

const { path } = write(landingConfig, landingFiles);
const folder = dirname(path);
afterAll(() => rmSync(folder, { recursive: true }));

/** The command as it is shipped: built before the tests run. */
function june(args: string[], input = '[[0.18,0.18,0.18]]', env: NodeJS.ProcessEnv = {}) {
  const { status, stdout, stderr } = spawnSync(join(process.cwd(), 'june'), ['colour', ...args], {
    input,
    encoding: 'utf8',
    env: { ...process.env, ...env },
  });
  return { status, stderr: stderr.trim(), answer: stdout.trim() === '' ? undefined : (JSON.parse(stdout) as unknown) };
}
const colours = (args: string[], input?: string, env?: NodeJS.ProcessEnv) =>
  june(args, input, env).answer as number[][];
const own = ['--config', path];

describe('june colour', () => {
  test('lists what is active, with aliases, roles, looks and named transforms', () => {
    const list = june([...own, '--list']).answer as {
      colorSpaces: { name: string; aliases: string[]; encoding: string; isData: boolean }[];
      displays: { name: string; views: string[] }[];
      looks: string[];
      roles: Record<string, string>;
      namedTransforms: string[];
    };
    expect(list.colorSpaces.map((s) => s.name)).not.toContain('hidden');
    expect(list.colorSpaces.find((s) => s.name === 'srgb texture')).toMatchObject({
      aliases: ['srgb_tx'],
      encoding: 'sdr-video',
      isData: false,
    });
    expect(list.displays[0]).toEqual({ name: 'Rec.709 monitor', views: ['Shared Film', 'from display'] });
    expect(list.looks).toEqual(['dusk', 'warm', 'absent', 'place', 'backwards']);
    expect(list.roles).toMatchObject({ scene_linear: 'ACEScg', color_timing: 'ACEScct' });
    expect(list.namedTransforms).toEqual(['bend', 'unbend']);
  });

  test('the built-in config lists spaces, displays and views', () => {
    const list = june(['--config', 'builtin', '--list']).answer as {
      colorSpaces: { name: string }[];
      displays: { name: string; views: string[] }[];
    };
    expect(list.colorSpaces.map((s) => s.name)).toEqual(
      expect.arrayContaining(['ACEScg', 'ACEScc', 'HLG', 'LogC4', 'Raw']),
    );
    expect(list.displays).toContainEqual({
      name: 'Rec.2100 PQ',
      views: ['ACES HDR 1000 nits', 'ACES 2.0 HDR 1000 nits', 'Gentle', 'Untoned'],
    });
  });

  test('file rules answer with the space and the rule', () => {
    expect(june([...own, '--rule', 'a/sky_plate.0001.exr']).answer).toEqual({ colorSpace: 'ACEScct', rule: 'plates' });
    expect(june([...own, '--rule', 'a/x_srgb_tx.tif']).answer).toEqual({
      colorSpace: 'srgb texture',
      rule: 'ColorSpaceNamePathSearch',
    });
  });

  test('--inverse with --from A --to B means B to A; views and named transforms turn round too', () => {
    const there = colours([...own, '--from', 'ACEScg', '--to', 'ACEScct']);
    const back = colours([...own, '--from', 'ACEScg', '--to', 'ACEScct', '--inverse'], JSON.stringify(there));
    expect(back[0]![0]).toBeCloseTo(0.18, 5);
    expect(colours([...own, '--named', 'bend'], '[[0.5,0.5,0.5]]')[0]![0]).toBeCloseTo(0.25, 6);
    expect(colours([...own, '--named', 'bend', '--inverse'], '[[0.25,0.5,0.5]]')[0]![0]).toBeCloseTo(0.5, 6);
    const view = ['--from', 'ACEScg', '--display', 'Rec.709 monitor', '--view', 'Shared Film'];
    const seen = colours([...own, ...view]);
    expect(colours([...own, ...view, '--inverse'], JSON.stringify(seen))[0]![1]).toBeCloseTo(0.18, 4);
  });

  test('a builtin style needs no config', () => {
    expect(colours(['--builtin', 'ACEScct_to_ACES2065-1', '--inverse'])[0]![0]).toBeCloseTo(0.4135884, 5);
  });

  test('--look replaces the view’s looks, empty means none, and one that begins with a minus is a value either way', () => {
    const view = ['--from', 'ACEScg', '--display', 'sRGB screen', '--view', 'ACES dusk'];
    const plain = colours([...own, '--from', 'ACEScg', '--display', 'sRGB screen', '--view', 'ACES']);
    expect(colours([...own, ...view, '--look='])).toEqual(plain);
    expect(colours([...own, ...view, '--look', ''])).toEqual(plain);
    expect(colours([...own, ...view])).toEqual(colours([...own, ...view, '--look', 'dusk']));
    const minus = colours([...own, ...view, '--look', '-dusk']);
    expect(minus).toEqual(colours([...own, ...view, '--look=-dusk']));
    expect(minus).not.toEqual(plain);
  });

  test('variables come from the config, the environment and --context, the last above all', () => {
    const way = [...own, '--from', 'by variable', '--to', 'ACES2065-1'];
    const first = colours(way, '[[0.6,0.2,0.4]]');
    const other = colours([...way, '--context', 'LOOKFILE=other.cc'], '[[0.6,0.2,0.4]]');
    expect(other).not.toEqual(first);
    expect(colours(way, '[[0.6,0.2,0.4]]', { LOOKFILE: 'other.cc' })).toEqual(other);
    expect(colours([...way, '--context', 'LOOKFILE=one.cc'], '[[0.6,0.2,0.4]]', { LOOKFILE: 'other.cc' })).toEqual(
      first,
    );
    const place = [...own, '--from', 'ACEScg', '--display', 'sRGB screen', '--view', 'film', '--look', 'place'];
    expect(colours([...place, '--context', 'PLACE=boat'])).not.toEqual(colours(place));
  });

  test('a folder and a zip serve as well as the file', () => {
    const encode = new TextEncoder();
    const files = new Map(
      [['config.ocio', landingConfig], ...Object.entries(landingFiles)].map(([p, t]) => [p!, encode.encode(t)]),
    );
    writeFileSync(join(folder, 'all.zip'), writeBundle(files));
    const way = ['--from', 'ACEScg', '--to', 'baked film'];
    const want = colours([...own, ...way]);
    expect(colours(['--config', folder, ...way])).toEqual(want);
    expect(colours(['--config', join(folder, 'all.zip'), ...way])).toEqual(want);
  });

  test.each([
    [['--config', '/nowhere.ocio', '--list'], /^june: \/nowhere\.ocio: there is no such file\.$/],
    [['--list'], /^june: Say which config/],
    [
      [...own, '--from', 'nope', '--to', 'ACEScg'],
      /there is no colour space named "nope"; the config has ACES2065-1, ACEScg/,
    ],
    [
      [...own, '--from', 'ACEScg', '--display', 'sRGB screen', '--view', 'nope'],
      /no view of display "sRGB screen" named "nope"/,
    ],
    [[...own, '--from', 'ACEScg'], /Say where the numbers go/],
    [[...own, '--named', 'nope'], /no named transform named "nope"; the config has bend, unbend/],
    [['--builtin', 'nope'], /the builtin style "nope" is not known/],
    [[...own, '--context', 'x', '--list'], /--context "x" must be NAME=VALUE/],
  ])('%j fails with one line', (args, sentence) => {
    const { status, stderr, answer } = june(args);
    expect([status, answer]).toEqual([1, undefined]);
    expect(stderr).toMatch(sentence);
    expect(stderr).not.toContain('\n');
  });

  test('input that is no list of colours is refused', () => {
    for (const input of ['', 'x', '{}', '[[1,2]]', '[["a",1,2]]'])
      expect(june(['--config', 'builtin', '--from', 'ACEScg', '--to', 'sRGB'], input).stderr).toMatch(
        /must be JSON like/,
      );
  });
});
