import { describe, expect, test } from '@jest/globals';
import { lutDisplay, undoneName } from '@june-haze/core';
import { jobOfShot, ledgerOfImport, type JobPlaces, type Shot } from '../src/index.ts';

const pass = (name: string, role: string) => ({
  name,
  role,
  part: 0,
  channels: [...'RGBA'].map((c) => ({ component: c, name: `${name}.${c}`, type: 'half' })),
});
const source = (id: string, more: object = {}) => ({
  id,
  name: `landing.####.exr`,
  folder: 'media/landing',
  pattern: 'landing.####.exr',
  declaredSpace: 'ACEScg',
  alpha: 'premultiplied',
  offset: 0,
  width: 96,
  height: 54,
  pixelAspect: 1,
  reading: { placement: null, onFault: 'stop', range: null, pixelAspect: null },
  stored: { range: null, pixelAspect: 1 },
  passes: [pass('beauty', 'beauty'), pass('sun', 'light-group')],
  ...more,
});
const entry = (sourceId: string, name: string, more: object = {}) => ({
  id: `${sourceId} ${name}`,
  name,
  kind: 'pass',
  sourceId,
  pass: name,
  enabled: true,
  operation: 'plus',
  mix: 1,
  adjustments: [],
  ...more,
});
const shot = (more: object = {}, entries: object[] = [entry('one', 'sun')]) =>
  ({
    firstFrame: 1001,
    lastFrame: 1024,
    rate: 24,
    width: 96,
    height: 54,
    workingSpace: 'ACEScg',
    viewing: {
      display: 'sRGB',
      view: 'ACES SDR',
      exposure: 0,
      black: 0,
      white: 1,
      gamma: 1,
      look: null,
      lookFile: null,
    },
    colour: { config: null, variables: {}, looks: [], conversions: [] },
    sources: [source('one')],
    ledger: { document: { version: 2, entries } },
    outputs: [],
    match: { note: '' },
    ...more,
  }) as unknown as Shot;
const places: JobPlaces = {
  pattern: (_, pattern) => `in/${pattern}`,
  output: (o) => `out/${o.name}.####.${o.kind}`,
  item: (id) => `kept/${id}.zip`,
};
function exported(of: Shot) {
  const made = jobOfShot(of, places);
  if ('unsaid' in made) throw new Error(made.unsaid.join(' '));
  return made.job;
}

describe('a shot as a job', () => {
  test('sources go by names of their own, those that nobody uses stay out; alpha is named where the shot finds it', () => {
    const sources = [
      source('one', { offset: 100, reading: { ...source('one').reading, placement: { scale: 0.5, shift: [3, 4] } } }),
      source('two'),
      source('three'),
    ];
    const job = exported(shot({ sources }, [entry('one', 'sun'), entry('two', 'beauty', { operation: 'over' })]));
    expect(Object.keys(job.sources)).toEqual(['landing', 'landing_2']);
    expect(job.sources.landing).toMatchObject({
      pattern: 'in/landing.####.exr',
      offset: -100,
      placement: { scale: 0.5, shift: [3, 4] },
    });
    expect(job.entries).toMatchObject([
      { source: 'landing', pass: 'sun' },
      { source: 'landing_2', pass: 'beauty' },
    ]);
    expect(job.alphaFrom).toEqual({ source: 'landing', pass: 'beauty' });
    expect(JSON.stringify(job)).not.toContain('"id":"one');
    const paced = { ...source('one').reading, speed: -0.5, beyond: 'loop' };
    const { sources: kept } = exported(shot({ sources: [source('one', { reading: paced })] }));
    expect(kept.landing).toMatchObject({ speed: -0.5, beyond: 'loop' });
    expect(job.sources.landing).toMatchObject({ speed: 1, beyond: 'stop' });
  });

  test('a source with a file for each pass names them in order; a role that its pass’s name does not say goes along', () => {
    const files = [
      { pattern: 'set_sun.####.exr', pass: 'sun', parts: 1, still: false },
      { pattern: 'set_beauty.####.exr', pass: 'beauty', parts: 2, still: false },
    ];
    const one = source('one');
    const passes = one.passes.map((p) => (p.name === 'sun' ? { ...p, role: 'depth' } : p));
    const job = exported(shot({ sources: [source('one', { pattern: 'set_{pass}.####.exr', files, passes })] }));
    expect(job.sources.set).toMatchObject({
      pattern: 'in/set_{pass}.####.exr',
      files: { sun: 'in/set_sun.####.exr', beauty: 'in/set_beauty.####.exr' },
      roles: { sun: 'depth' },
    });
    expect(Object.keys(job.sources.set!.files!)).toEqual(['sun', 'beauty']);
    // Of the usual one the light's name does not say that it is one; the beauty's says it.
    expect(exported(shot()).sources.landing!.roles).toEqual({ sun: 'light-group' });
  });

  test('what it needs of the Library is named beside it, and comes back under the ids that it is given', () => {
    const lookFile = { id: 'abc', name: 'dusk', space: 'ACEScct' };
    const adjustments = [{ kind: 'lut', enabled: true, lookFile }];
    const of = shot(
      {
        colour: { config: 'cfg', variables: { SHOT: 'x' }, looks: ['abc'], conversions: [] },
        viewing: { ...shot().viewing, lookFile },
      },
      [entry('one', 'sun', { adjustments })],
    );
    const job = exported(of);
    expect([job.config, job.variables, job.viewing!.lookFile!.id]).toEqual([
      'kept/cfg.zip',
      { SHOT: 'x' },
      'kept/abc.zip',
    ]);
    expect(job.entries).toMatchObject([{ adjustments: [{ lookFile: { id: 'kept/abc.zip' } }] }]);
    const back = ledgerOfImport(job, new Map([['landing', 'new']]), new Map([['kept/abc.zip', 'new abc']]));
    expect(back.entries).toMatchObject([
      { id: 'e1', name: 'sun', sourceId: 'new', adjustments: [{ lookFile: { ...lookFile, id: 'new abc' } }] },
    ]);
    expect(back.alphaFrom).toEqual({ sourceId: 'new', pass: 'beauty' });
  });

  test('a show LUT goes along as a file, with what it takes and what its codes are', () => {
    const views = [{ id: 'show', name: 'show.cube', from: 'ACEScct', encoding: 'bt1886' }];
    const viewing = { ...shot().viewing, display: lutDisplay, view: 'show.cube' };
    const job = exported(shot({ colour: { ...shot().colour, views }, viewing }));
    expect(job.viewing).toMatchObject({
      view: 'show.cube',
      viewLut: { id: 'kept/show.zip', from: 'ACEScct', encoding: 'bt1886' },
    });
    expect(exported(shot({ colour: { ...shot().colour, views } })).viewing!.viewLut).toBeNull();
  });

  const ownPixels = { firstFrame: 1001, lastFrame: 1024, step: 1, crop: null, width: null };
  const picture = (bakeLook: boolean) => ({ name: `p${bakeLook}`, kind: 'png', bakeLook, space: null, ...ownPixels });
  const look = { viewing: { ...shot().viewing, look: 'dusk' } };

  test('pictures without the viewing’s look leave it out of the job; with it, it goes along', () => {
    expect(exported(shot({ ...look, outputs: [picture(false)] })).viewing!.look).toBeNull();
    expect(exported(shot({ ...look, outputs: [picture(true)] })).viewing!.look).toBe('dusk');
    expect(exported(shot(look)).viewing!.look).toBe('dusk');
  });

  test('sizes, parts and steps go along where they are of an output’s own', () => {
    const crop = { x: 1, y: 2, width: 30, height: 20 };
    const own = { ...picture(false), step: 3, crop, width: 60 };
    const [plain, sized] = exported(shot({ outputs: [picture(false), { ...own, name: 'sized' }] })).outputs;
    expect(sized).toMatchObject({ step: 3, crop, width: 60 });
    expect(Object.keys(plain!)).not.toEqual(expect.arrayContaining(['step']));
  });

  const speck = { kind: 'sparkle', enabled: true };
  const reading = source('one').reading;
  const conversions = [{ id: 'x', name: 'ACEScg', to: 'ACEScg' }];
  test.each<{ words: string; of: Shot }>([
    {
      words: 'did not keep its files’ passes',
      of: shot({ sources: [source('one', { files: [{ pass: '' }, { pass: '' }] })] }),
    },
    { words: 'another range', of: shot({ sources: [source('one', { reading: { ...reading, range: 'legal' } })] }) },
    {
      words: 'another pixel aspect',
      of: shot({ sources: [source('one', { reading: { ...reading, pixelAspect: 2 } })] }),
    },
    { words: 'is a LUT of the Library', of: shot({ colour: { ...shot().colour, conversions } }) },
    {
      words: 'undone is a LUT of the Library',
      of: shot({
        colour: { ...shot().colour, views: [{ id: 'v', name: 'show', from: 'ACEScct', encoding: 'srgb' }] },
        sources: [source('one', { declaredSpace: undoneName(lutDisplay, 'show') })],
      }),
    },
    {
      words: 'has a view that is a LUT of the Library',
      of: shot({}, [
        entry('one', 'sun', { adjustments: [{ kind: 'view', enabled: true, display: lutDisplay, view: 'show' }] }),
      ]),
    },
    { words: 'carry the viewing’s look', of: shot({ ...look, outputs: [picture(false), picture(true)] }) },
    { words: 'adjustments.0', of: shot({}, [entry('one', 'sun', { adjustments: [speck] })]) },
  ])('what a job has no word for is said: $words', ({ words, of }) => {
    const made = jobOfShot(of, places);
    expect('unsaid' in made ? made.unsaid.join(' ') : '').toContain(words);
  });
});
