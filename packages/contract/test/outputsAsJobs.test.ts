import { expect, test } from '@jest/globals';
import { jobOutputOf, jobOutputSchema, outputSettingsSchema, settingsOfJobOutput } from '@june-haze/contract';

const settings = (change: object) =>
  outputSettingsSchema.parse({
    name: 'Master',
    kind: 'exr',
    sampleType: 'half',
    compression: 'zip',
    firstFrame: 1001,
    lastFrame: 1004,
    fileName: 'm_v003.####',
    ...change,
  });
const names = [
  ['one', 'landing'],
  ['two', 'plate'],
] as const;
const nameOf = (id: string) => names.find(([own]) => own === id)![1];
const idOf = (name: string) => names.find(([, called]) => called === name)![0];
const job = { frames: [1001, 1004] as [number, number], working: 'ACEScg', viewing: undefined };

test.each([
  ['light', { sampleType: 'float', compression: 'dwaa', space: 'ACEScct', alpha: false }],
  ['the working space', { crop: { x: 1, y: 2, width: 30, height: 20 }, width: 60, step: 3 }],
  ['a part in its window', { crop: { x: 1, y: 2, width: 30, height: 20 }, keepWindow: true }],
  ['a range of its own', { firstFrame: 1002, lastFrame: 1003 }],
  ['the ACES container', { kind: 'aces', offset: -1000, rate: 23.976, timecode: '01:00:00:00' }],
  ['a log DPX', { kind: 'dpx', space: 'ACEScct', owner: 'Quay', comments: 'for the grade' }],
  ['a picture that covers', { kind: 'png', codes: 'displayP3', dither: true }],
  ['a picture with alpha', { kind: 'png', bits: 16, transparent: true }],
  ['a TIFF with alpha', { kind: 'tiff', bits: 16, transparent: true }],
  ['codes without the viewing', { kind: 'tiff', bits: 16, space: 'Display P3' }],
  ['a JPEG', { kind: 'jpeg', quality: 82 }],
  ['a movie', { kind: 'movie', codec: 'vp9', quality: 60, codes: 'bt1886', fileName: 'm_v003' }],
  ['a movie with alpha', { kind: 'movie', codec: 'prores', quality: 70, codes: 'bt1886', transparent: true }],
  [
    'passes',
    {
      kind: 'passes',
      passes: [
        { sourceId: 'two', pass: 'depth' },
        { sourceId: 'one', pass: 'sun' },
      ],
      mattes: ['far'],
      layering: 'parts',
    },
  ],
])('%s goes into a job and comes back as it was', (_, change) => {
  const own = settings(change);
  const pattern = `out/${own.fileName}.x`;
  const said = jobOutputSchema.parse(jobOutputOf(own, { frames: job.frames, workingSpace: 'ACEScg', pattern, nameOf }));
  expect(settingsOfJobOutput(said, job, idOf)).toEqual(own);
});

test('what the application has no output for stays in the job', () => {
  const of = (change: object) =>
    settingsOfJobOutput(
      jobOutputSchema.parse({ name: 'x', kind: 'exr', pattern: 'x.####.exr', ...change }),
      job,
      (n) => n,
    );
  expect(of({})).toBeUndefined();
  expect(of({ kind: 'png', space: 'ACEScct' })).toBeUndefined();
  expect(of({ kind: 'movie', space: 'sRGB', pattern: 'x.mp4' })).toBeUndefined();
  // A PNG of a job has alpha where nothing is said.
  expect(of({ kind: 'png', pattern: 'x.png' })).toMatchObject({ transparent: true, fileName: 'x', quality: 95 });
  // Of movies only ProRes has alpha, and only where it is asked for.
  const ofMovie = (change: object) => of({ kind: 'movie', pattern: 'x.mov', ...change })!.transparent;
  expect([ofMovie({ codec: 'prores' }), ofMovie({ codec: 'prores', alpha: true }), ofMovie({ alpha: true })]).toEqual([
    false,
    true,
    false,
  ]);
  // Names that only jobs take give way to the usual ones.
  expect(of({ kind: 'png', pattern: 'a(b).####.png' })!.fileName).toBe('{shot}_{output}_{space}.####');
});
