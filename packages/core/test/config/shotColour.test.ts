import { describe, expect, test } from '@jest/globals';
import { ShotColour, undoneName } from '../../src/config/shotColour.ts';
import { builtinColour, itemsOf, keyInForce, openShotColour, type ColourKey } from '../../src/config/colourKey.ts';
import { lutDisplay } from '../../src/config/lutViews.ts';
import { findConfigFile, readBundle, writeBundle } from '../../src/config/bundle.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { conversion } from '../../src/colour/conversion.ts';
import { primariesOf } from '../../src/colour/sampled.ts';
import { rec709 } from '../../src/colour/primaries.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';
import { readLut } from '../../src/lut/read.ts';
import { run, values, worstExcess, type Rgb } from '../colour/run.ts';
import { open, write } from './compare.ts';
import { landingConfig, landingFiles } from './configs.ts';

const config = open(write(landingConfig, landingFiles));
const shot = new ShotColour(config);
const bytes = (text: string) => new TextEncoder().encode(text);
const halved = readLut(bytes('LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n'), 'half.cube');
const plain = { display: 'sRGB screen', view: 'ACES', exposure: 0 };

describe('a config beside the built-in spaces', () => {
  test('its own names come first; built-in ones of other names stand beside them', () => {
    const names = shot.spaces().map((s) => [s.name, s.origin]);
    expect(names).toContainEqual(['ACEScg', 'config']);
    expect(names).toContainEqual(['V-Log', 'builtin']);
    expect(names.filter(([n]) => n === 'ACEScg')).toHaveLength(1);
    expect(names.map(([n]) => n)).not.toContain('hidden');
  });

  test('built-in spaces reach the config through its ACES2065-1', () => {
    const some = values(true);
    const there = run(shot.conversion('Linear Rec.709', 'ACEScct'), some);
    const want = run(conversion(requireSpace('Linear Rec.709'), requireSpace('ACEScct')), some);
    expect(worstExcess(there, want, 1e-5, 1e-4)).toBeLessThanOrEqual(0);
    const back = run(shot.conversion('ACEScct', 'Linear Rec.709'), there);
    expect(worstExcess(back, some, 1e-3, 1e-3)).toBeLessThanOrEqual(0);
  });

  test('without an ACES2065-1 only one side can be used, and the error says so by name', () => {
    const alone = new ShotColour(
      open(write('ocio_profile_version: 2\nroles: {default: a}\ncolorspaces:\n  - !<ColorSpace> {name: a}\n')),
    );
    expect(alone.spaces().map((s) => s.name)).toEqual(['a']);
    expect(alone.knows('V-Log')).toBe(false);
    expect(() => alone.conversion('V-Log', 'a')).toThrow(/no colour space named "V-Log"; the config has a/);
    expect(alone.linearTwin('a')).toBeUndefined();
    expect(alone.luminance('a')[1]).toBeCloseTo(0.7152, 4);
  });

  test('data is never converted, wherever it is defined', () => {
    expect(shot.conversion('raw', 'V-Log')).toEqual([]);
    expect(shot.conversion('Raw', 'ACEScg')).toEqual([]);
  });

  test('working spaces: linear light of the scene only', () => {
    expect(shot.whyNotWorking('ACEScg')).toBeUndefined();
    expect(shot.whyNotWorking('Linear Rec.2020')).toBeUndefined();
    expect(shot.whyNotWorking('ACEScct')).toMatch(/not linear/);
    expect(shot.whyNotWorking('CIE XYZ D65')).toMatch(/light of a display/);
    expect(() => shot.whyNotWorking('nowhere')).toThrow(/"nowhere"/);
  });

  test('files written from a config’s linear space are tagged as the built-in space with the same light', () => {
    expect(shot.linearTwin('ACEScg')?.interopId).toBe('lin_ap1_scene');
    expect(shot.linearTwin('scene_linear')?.name).toBe('ACEScg');
    expect(shot.linearTwin('ACEScct')).toBeUndefined();
    expect(new ShotColour().linearTwin('Linear P3-D65')?.name).toBe('Linear P3-D65');
  });

  test('views are those that the viewing rules offer for a space', () => {
    const views = (space?: string) => shot.displays(space).find((d) => d.name === 'sRGB screen')!.views;
    expect(views()).toContain('Shared Film');
    expect(views('ACEScg')).toContain('Shared Film');
    expect(views('raw')).not.toContain('Shared Film');
  });

  test('how a display’s codes are tagged is read from names, and left open where they do not say', () => {
    expect(shot.displayEncoding('sRGB screen', 'ACES')).toBe('srgb');
    expect(shot.displayEncoding('Rec.709 monitor', 'Shared Film')).toBe('bt1886');
    expect(new ShotColour().displayEncoding('sRGB', 'ACES SDR')).toBe('srgb');
    expect(new ShotColour().displayEncoding('P3-D65', 'ACES SDR')).toBe('p3Cinema');
    expect(new ShotColour().displayEncoding('Rec.2100 PQ', 'Gentle')).toBe('pq');
  });

  test('gamuts of known spaces are their published ones', () => {
    const kernels = createWasmKernels();
    expect(primariesOf(shot, 'Linear Rec.709', kernels)).toEqual(rec709);
    expect(primariesOf(shot, 'ACEScct', kernels)).toBeUndefined();
  });
});

describe('viewing', () => {
  const some = values(false).slice(0, 300);
  test('exposure comes before the view, gamma after it, and the end is a display’s 0 … 1', () => {
    const seen = (more: object) => run(shot.view('ACEScg', { ...plain, ...more }), some);
    const brighter = run(
      shot.view('ACEScg', plain),
      some.map((v) => v.map((x) => x * 2) as typeof v),
    );
    expect(worstExcess(seen({ exposure: 1 }), brighter, 1e-6, 1e-6)).toBeLessThanOrEqual(0);
    const bent = seen({}).map((v) => v.map((x) => x ** (1 / 1.5)) as typeof v);
    expect(worstExcess(seen({ gamma: 1.5 }), bent, 1e-5, 1e-5)).toBeLessThanOrEqual(0);
    expect(
      seen({})
        .flat()
        .every((x) => x >= 0 && x <= 1),
    ).toBe(true);
  });

  test('null keeps the view’s own look, "" takes it away, a name replaces it', () => {
    const seen = (look: string | null) =>
      run(shot.view('ACEScg', { ...plain, view: 'ACES dusk', look }), [[0.3, 0.2, 0.1]]);
    const without = run(shot.view('ACEScg', plain), [[0.3, 0.2, 0.1]]);
    expect(seen('')).toEqual(without);
    expect(seen(null)).toEqual(seen('dusk'));
    expect(seen(null)).not.toEqual(without);
  });

  test('a look file works on numbers of the space that it expects', () => {
    const withFile = new ShotColour(config, new Map([['id', halved]]));
    const choice = { ...plain, lookFile: { id: 'id', space: 'ACEScct' } };
    const byHand = run(
      [
        ...withFile.conversion('ACEScg', 'ACEScct'),
        { kind: 'matrix', matrix: [0.5, 0, 0, 0, 0.5, 0, 0, 0, 0.5] },
        ...withFile.conversion('ACEScct', 'ACEScg'),
        ...withFile.view('ACEScg', plain),
      ],
      [[0.3, 0.2, 0.1]],
    );
    expect(
      worstExcess(run(withFile.view('ACEScg', choice), [[0.3, 0.2, 0.1]]), byHand, 1e-5, 1e-4),
    ).toBeLessThanOrEqual(0);
    expect(withFile.lookSteps('ACEScg', choice).length).toBeGreaterThan(0);
    expect(withFile.lookSteps('ACEScg', plain)).toEqual([]);
    expect(() => shot.view('ACEScg', choice)).toThrow(/no look file/);
  });

  test('a technical LUT is a space, both ways', () => {
    const colour = new ShotColour(config, new Map(), [{ name: 'half.cube', to: 'ACEScg', transform: halved }]);
    expect(colour.spaces().at(-1)).toMatchObject({ name: 'half.cube', origin: 'library', linear: false });
    expect(run(colour.conversion('half.cube', 'ACEScg'), [[0.8, 0.4, 0.2]])[0]![0]).toBeCloseTo(0.4, 6);
    expect(run(colour.conversion('ACEScg', 'half.cube'), [[0.4, 0.2, 0.1]])[0]![0]).toBeCloseTo(0.8, 5);
    expect(colour.whyNotWorking('half.cube')).toMatch(/LUT/);
  });
});

describe('a show LUT', () => {
  const own = { name: 'show.cube', from: 'ACEScct', encoding: 'bt1886', transform: halved } as const;
  const colour = new ShotColour(config, new Map(), [], [own]);
  const through = { display: lutDisplay, view: 'show.cube', exposure: 0 };

  test('is a view after those of the config, from numbers of its space to codes of its display', () => {
    expect(colour.displays().at(-1)).toEqual({ name: lutDisplay, views: ['show.cube'] });
    expect(shot.displays().some((d) => d.name === lutDisplay)).toBe(false);
    expect(colour.displayEncoding(lutDisplay, 'show.cube')).toBe('bt1886');
    const light: Rgb[] = [[0.3, 0.2, 0.1]];
    const half = ([r, g, b]: Rgb): Rgb => [r / 2, g / 2, b / 2];
    const codes = half(run(colour.conversion('ACEScg', 'ACEScct'), light)[0]!);
    expect(worstExcess(run(colour.view('ACEScg', through), light), [codes], 1e-5, 1e-5)).toBeLessThanOrEqual(0);
    // Exposure before it, gamma after it, as for every view.
    const trimmed = run(colour.view('ACEScg', { ...through, exposure: 1, gamma: 2 }), light);
    const [r, g, b] = half(run(colour.conversion('ACEScg', 'ACEScct'), [[0.6, 0.4, 0.2]])[0]!);
    expect(worstExcess(trimmed, [[r ** 0.5, g ** 0.5, b ** 0.5]], 1e-5, 1e-5)).toBeLessThanOrEqual(0);
  });

  test('takes looks of the config before it, and is undone by declaring its codes', () => {
    const looked = run(colour.view('ACEScg', { ...through, look: 'dusk' }), [[0.3, 0.2, 0.1]]);
    expect(looked).not.toEqual(run(colour.view('ACEScg', through), [[0.3, 0.2, 0.1]]));
    const light: [number, number, number][] = [[0.3, 0.2, 0.1]];
    const back = run(
      colour.conversion(undoneName(lutDisplay, 'show.cube'), 'ACEScg'),
      run(colour.view('ACEScg', through), light),
    );
    expect(worstExcess(back, light, 1e-4, 1e-3)).toBeLessThanOrEqual(0);
  });

  test('that is no longer there is named', () => {
    expect(() => shot.view('ACEScg', through)).toThrow(/show LUT.*show\.cube/);
  });

  test('decides pictures only where it is used', () => {
    const views = [{ id: 'v', name: 'show.cube', from: 'ACEScct', encoding: 'srgb' as const }];
    const key: ColourKey = { ...builtinColour, views };
    expect(itemsOf(key)).toEqual(['v']);
    expect(keyInForce(key, through)).toEqual(key);
    expect(keyInForce(key, null, [undoneName(lutDisplay, 'show.cube')])).toEqual(key);
    expect(keyInForce(key, plain, ['ACEScg'])).toEqual(builtinColour);
    const lut = new Map([['show.cube', bytes('LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')]]);
    expect(
      openShotColour(key, new Map([['v', lut]]))
        .displays()
        .at(-1)!.views,
    ).toEqual(['show.cube']);
  });
});

describe('keys and bundles', () => {
  const zip = writeBundle(
    new Map([
      ['tern/config.ocio', bytes(landingConfig)],
      ...Object.entries(landingFiles).map(([p, t]) => [`tern/${p}`, bytes(t)] as const),
    ]),
  );
  test('a key opens the same colours from the same bytes', () => {
    const key = { ...builtinColour, config: 'c', conversions: [{ id: 'l', name: 'half.cube', to: 'ACEScg' }] };
    expect(itemsOf(key)).toEqual(['c', 'l']);
    const lut = new Map([['half.cube', bytes('LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')]]);
    const colour = openShotColour(
      key,
      new Map([
        ['c', readBundle(zip, 'c')],
        ['l', lut],
      ]),
    );
    expect(run(colour.view('ACEScg', plain), [[0.3, 0.2, 0.1]])).toEqual(
      run(shot.view('ACEScg', plain), [[0.3, 0.2, 0.1]]),
    );
    expect(colour.knows('half.cube')).toBe(true);
    expect(() => openShotColour(key, new Map())).toThrow(/no longer in the Library/);
  });
  test('the same files pack to the same bytes, and the config nearest to the top is taken', () => {
    const files = readBundle(zip, 'x');
    expect(writeBundle(new Map([...files].reverse()))).toEqual(zip);
    expect(
      findConfigFile(
        new Map([
          ['a/b/deep.ocio', bytes('')],
          ['a/top.ocio', bytes('')],
          ['__MACOSX/x.ocio', bytes('')],
        ]),
      ),
    ).toBe('a/top.ocio');
  });
});

describe('a picture that was saved through a view', () => {
  // Light that neither view cuts off.
  const light = [0.02, 0.05, 0.1, 0.18, 0.3, 0.5].flatMap((v): [number, number, number][] => [
    [v, v, v],
    [v, v * 0.8, v * 0.6],
    [v * 0.7, v, v * 0.9],
  ]);
  test.each([
    ['built-in', new ShotColour(), 'sRGB', 'ACES SDR', 2e-3],
    ['a config’s', shot, 'sRGB screen', 'ACES', 2e-3],
  ] as const)('%s view is undone by declaring it', (_, colour, display, view, tolerance) => {
    const name = undoneName(display, view);
    expect(colour.knows(name)).toBe(true);
    expect(colour.undoneViews().map((s) => s.name)).toContain(name);
    expect(colour.whyNotWorking(name)).toMatch(/picture’s codes/);
    const codes = run(colour.view('ACEScg', { display, view, exposure: 0 }), light);
    const back = run(colour.conversion(name, 'ACEScg'), codes);
    expect(worstExcess(back, light, tolerance, 1e-2)).toBeLessThanOrEqual(0);
  });

  test('names of other views are unknown, and spaces to work in do not hold them', () => {
    expect(shot.knows(undoneName('sRGB screen', 'nothing'))).toBe(false);
    expect(shot.spaces().some((s) => s.name.endsWith(', undone'))).toBe(false);
  });
});
