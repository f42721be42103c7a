import { describe, expect, test } from '@jest/globals';
import { parseConfig } from '../../src/config/parseConfig.ts';
import { values, type Rgb } from '../colour/run.ts';
import { askReferenceJobs, open, worst, write, type Answer, type Question } from './compare.ts';
import { landingConfig, landingFiles, oldConfig, oldFiles } from './configs.ts';

const light = values(true);
const codes = light.map((v) => v.map((x) => Math.min(Math.max(x, 0.02), 0.98)) as Rgb);

/** Whole configs: 1e-4 + 5e-4, and 2e-4 + 2e-3 through ACES outputs, which the reference computes from half-float tables. */
const tolerance = (q: Question): [number, number] => (/ACES/.test(q.view ?? '') ? [2e-4, 2e-3] : [1e-4, 5e-4]);

const through = (from: string, to: string, more: Partial<Question> = {}): Question => ({
  name: `${from} to ${to} ${JSON.stringify(more.context ?? '')}`,
  from,
  to,
  values: /cct|srgb|film|look|view/i.test(from) ? codes : light,
  exact: true,
  ...more,
});
const seen = (display: string, view: string, more: Partial<Question> = {}): Question => ({
  name: `${display} / ${view} ${more.looks ?? ''}${more.inverse ? ' inverse' : ''} from ${more.from ?? 'ACEScg'}`,
  from: 'ACEScg',
  display,
  view,
  values: more.inverse ? codes : light,
  exact: true,
  ...more,
});

const landing: Question[] = [
  through('ACEScg', 'ACEScct'),
  through('scene_linear', 'color_timing'),
  through('AP1', 'SRGB_TX'),
  through('srgb texture', 'ACEScg'),
  through('ACEScg', 'baked film'),
  through('baked film', 'ACEScg'),
  through('by look', 'ACEScg'),
  through('ACEScg', 'by look'),
  through('ACEScg', 'by view'),
  through('ACES2065-1', 'two looks', { values: codes }),
  through('ACES2065-1', 'look choice', { values: codes }),
  through('ACES2065-1', 'view without look', { values: light }),
  through('view backwards', 'ACES2065-1', { values: codes }),
  through('ACES2065-1', 'view backwards', { values: codes }),
  through('ACES2065-1', 'data taken along'),
  through('ACES2065-1', 'data left alone'),
  through('nested', 'ACES2065-1', { values: codes }),
  through('ACES2065-1', 'nested', { values: codes }),
  through('ACES2065-1', 'by named'),
  through('by named', 'ACES2065-1'),
  through('both ways', 'ACES2065-1'),
  through('ACES2065-1', 'both ways'),
  through('same group a', 'same group b'),
  through('raw', 'ACEScg'),
  through('ACEScct', 'raw'),
  through('by variable', 'ACEScg'),
  through('by variable', 'ACEScg', { context: { LOOKFILE: 'other.cc' } }),
  through('hidden', 'ACEScg'),
  through('ACEScg', 'sRGB screen'),
  through('sRGB screen', 'ACEScg', { values: codes }),
  through('CIE XYZ D65', 'Rec.709 monitor'),
  through('bend', 'ACEScg'),
  seen('sRGB screen', 'ACES'),
  seen('sRGB screen', 'ACES', { from: 'ACEScct', values: codes }),
  seen('sRGB screen', 'ACES dusk'),
  seen('sRGB screen', 'film'),
  seen('sRGB screen', 'film dusk'),
  seen('sRGB screen', 'film dusk', { inverse: true }),
  seen('sRGB screen', 'Shared Film'),
  seen('Rec.709 monitor', 'Shared Film'),
  seen('Rec.709 monitor', 'Shared Film', { inverse: true }),
  seen('sRGB screen', 'Shared Raw'),
  seen('Rec.709 monitor', 'from display'),
  seen('sRGB screen', 'ACES', { from: 'raw' }),
  ...[
    'dusk',
    '+dusk, -warm',
    '-dusk',
    '-a,-b'.replace('a', 'dusk').replace('b', 'warm'),
    'absent | dusk',
    'place',
    'backwards',
    '-backwards',
    '',
  ].map((looks) =>
    // Looks turned round overflow on colours far outside the gamut, where libraries differ in what follows an infinity.
    seen('sRGB screen', 'film dusk', { looks, values: codes }),
  ),
  { name: 'named', named: 'bend', values: light, exact: true },
  { name: 'named, inverse', named: 'BENT', inverse: true, values: light, exact: true },
  { name: 'named by its inverse', named: 'unbend', values: light, exact: true },
];
const old: Question[] = [
  through('linear', 'log'),
  through('log', 'linear', { values: codes }),
  through('linear', 'film view'),
  through('gamma', 'linear'),
  through('linear', 'gamma'),
  seen('film', 'Film', { from: 'linear' }),
  // The reference drops the table and its inverse between look and view only when asked for exact inverses.
  seen('film', 'Film, dusk', { from: 'linear', exact: false }),
  seen('film', 'Raw', { from: 'linear' }),
];

describe.each([
  ['version 2', write(landingConfig, landingFiles), landing],
  ['version 1', write(oldConfig, oldFiles), old],
])('a whole config of %s against the reference library', (_, written, questions) => {
  const answers = askReferenceJobs(questions.map((q) => ({ ...q, config: written.path }))) as Answer[];
  test.each(questions.map((q, i) => [q.name, i] as const))('%s', (__, i) => {
    const result = worst(written, questions[i]!, answers[i]!, ...tolerance(questions[i]!));
    expect(result.excess > 0 ? JSON.stringify(result) : 'within').toBe('within');
  });
});

describe('file rules', () => {
  const written = write(landingConfig, landingFiles);
  const config = open(written);
  const paths = [
    'a/plate_01.exr',
    'a/plate_01.EXR',
    'x.png',
    'x.PNG',
    'shot_12/x.tif',
    'a/ap1_x.tif',
    'lin_ap0/ACEScct.dpx',
    'x_srgb_tx.dpx',
    'nothing.dpx',
    'plate',
    'a.b.plate.exr',
    'ACEScg/x_ACEScct_y.tga',
  ];
  const answers = askReferenceJobs(paths.map((rule) => ({ config: written.path, rule }))) as [string, string][];
  test.each(paths.map((p, i) => [p, i] as const))('%s', (path, i) => {
    const match = config.ruleFor(path)!;
    const [space, rule] = answers[i]!;
    expect([match.space, match.rule]).toEqual([config.requireSpace(space).name, rule]);
  });
});

describe('file rules of configs that have none', () => {
  const old = write(oldConfig, oldFiles);
  const bare = write(
    'ocio_profile_version: 2\nroles: {default: b}\ncolorspaces:\n  - !<ColorSpace> {name: a}\n  - !<ColorSpace> {name: b}\n',
  );
  const paths = ['x_log.exr', 'gamma/x.png', 'nothing.tif', 'a.exr', 'x_a_b.tif'];
  test.each([
    ['version 1', old],
    ['version 2', bare],
  ])('%s', (_, written) => {
    const answers = askReferenceJobs(paths.map((rule) => ({ config: written.path, rule }))) as [string, string][];
    const config = open(written);
    expect(paths.map((path) => config.ruleFor(path)?.space)).toEqual(
      answers.map(([space]) => config.requireSpace(space).name),
    );
  });
});

describe('what a config offers', () => {
  const config = open(write(landingConfig, landingFiles));
  test('active displays and views in the order of the lists', () => {
    expect(config.activeDisplays().map((d) => [d.name, d.views.map((v) => v.name)])).toEqual([
      ['Rec.709 monitor', ['Shared Film', 'from display']],
      ['sRGB screen', ['ACES', 'ACES dusk', 'Shared Film', 'film', 'film dusk']],
    ]);
  });
  test('inactive spaces are not listed but work', () => {
    expect(config.activeSpaces().map((s) => s.name)).not.toContain('hidden');
    expect(config.findSpace('hidden')).toBeDefined();
  });
  test('viewing rules choose views by space and encoding', () => {
    const display = config.requireDisplay('sRGB screen');
    const names = (space: string) => config.viewsFor(display, config.requireSpace(space)).map((v) => v.name);
    expect(names('ACEScg')).toContain('Shared Film');
    expect(names('ACEScg')).not.toContain('Shared Raw');
    expect(names('raw')).toContain('Shared Raw');
  });
  test('linear spaces are known by their numbers, not by their names', () => {
    const linear = config.activeSpaces().filter((s) => config.isLinear(s));
    expect(linear.map((s) => s.name)).toEqual([
      'ACES2065-1',
      'ACEScg',
      'data taken along',
      'data left alone',
      'CIE XYZ D65',
    ]);
  });
});

describe('faults are named with their place and do not spoil the rest', () => {
  const broken = `ocio_profile_version: 2
search_path: luts
roles: {default: good, lost: nowhere}
displays:
  screen:
    - !<View> {name: ok, colorspace: good}
    - !<View> {name: gone, colorspace: missing}
    - !<Views> [not shared]
colorspaces:
  - !<ColorSpace> {name: good, to_scene_reference: !<MatrixTransform> {offset: [0.1, 0, 0, 0]}}
  - !<ColorSpace> {name: no file, to_scene_reference: !<FileTransform> {src: absent.cube}}
  - !<ColorSpace> {name: bad number, to_scene_reference: !<ExponentTransform> {value: [2, x, 2, 1]}}
  - !<ColorSpace> {name: short, to_scene_reference: !<MatrixTransform> {matrix: [1, 2, 3]}}
  - !<ColorSpace> {name: unknown, to_scene_reference: !<WobbleTransform> {a: 1}}
  - !<ColorSpace> {name: circle a, to_scene_reference: !<ColorSpaceTransform> {src: circle b, dst: good}}
  - !<ColorSpace> {name: circle b, to_scene_reference: !<ColorSpaceTransform> {src: circle a, dst: good}}
  - !<ColorSpace> {name: torn, to_scene_reference: !<FileTransform> {src: torn.cube}}
  - !<ColorSpace> {name: open, to_scene_reference: !<FileTransform> {src: "$NOBODY.cube"}}
  - !<ColorSpace> {name: flat, from_scene_reference: !<MatrixTransform> {matrix: [0,0,0,0, 0,0,0,0, 0,0,0,0, 0,0,0,1]}}
`;
  const config = open(write(broken), {});
  const withTorn = open({ text: broken, files: { 'luts/torn.cube': 'LUT_3D_SIZE 2\n0 0 0\n1 1\n' }, path: '' });

  test('spaces that work stay usable', () => {
    expect(config.conversion('good', 'good')).toEqual([]);
    expect(config.view('good', { display: 'screen', view: 'ok' })).toEqual([]);
  });

  test.each([
    ['no file', /config\.ocio, line 11: the file "absent\.cube" is missing/],
    ['bad number', /config\.ocio, line 12: colour space "bad number": .*"x" is not a number/],
    ['short', /line 13: colour space "short": .*has 3 numbers where 16 are needed/],
    ['unknown', /line 14: colour space "unknown": .*"WobbleTransform" is not a transform/],
    ['circle a', /a circle: colour space "circle a" → colour space "circle b" → colour space "circle a"/],
    ['open', /the variable NOBODY in "\$NOBODY\.cube" has no value/],
    ['flat', /the matrix has no inverse/],
  ])('%s', (name, sentence) => {
    expect(() => config.conversion(name, 'good')).toThrow(sentence);
  });

  test('a damaged LUT names its own file and line', () => {
    expect(() => withTorn.conversion('torn', 'good')).toThrow(
      /luts\/torn\.cube.*8 rows of values are needed, 2 are there/,
    );
  });

  test('all of them are listed', () => {
    const list = config
      .problems()
      .map((p) => p.message)
      .join('\n');
    for (const words of [
      'absent.cube',
      'bad number',
      'short',
      'WobbleTransform',
      'a circle',
      'NOBODY',
      'role "lost"',
      'missing',
      'shared view',
    ])
      expect(list).toContain(words);
  });

  test.each([
    ['', 'the file is empty'],
    ['just words', 'must be a list of "key: value" pairs'],
    ['a: 1', 'no "ocio_profile_version"'],
    ['ocio_profile_version: 7', 'version "7" cannot be read'],
    ['a: [1, 2', 'line'],
  ])('%j is refused in a sentence', (text, words) => {
    expect(() => parseConfig(text, 'config.ocio')).toThrow(words);
  });

  test('names that do not exist are named in the error, with what there is', () => {
    expect(() => config.view('good', { display: 'screen', view: 'Film' })).toThrow(
      /no view of display "screen" named "Film"; the config has ok, gone/,
    );
    expect(() => config.view('good', { display: 'wall', view: 'ok' })).toThrow(/no display named "wall"/);
    expect(() => config.look('good', 'dawn')).toThrow(/no look named "dawn"/);
  });
});
