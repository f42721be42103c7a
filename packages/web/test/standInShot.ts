import type { Run, Shot, Source } from '@june-haze/contract';
import { entry } from '../../core/test/operations/surroundings.ts';

const pass = (name: string, role: string, components = 'RGB') => ({
  name,
  role,
  part: 0,
  channels: [...components].map((component) => ({ component, name: `${name}.${component}`, type: 'float' })),
});

/** A source as the server tells of it, with what looking at it needs. */
export const standInSource = (id: string, more: object = {}): Source =>
  ({
    id,
    name: id,
    folder: 'media',
    pattern: `${id}.####.exr`,
    declaredSpace: 'ACEScg',
    alpha: 'premultiplied',
    width: 8,
    height: 4,
    pixelAspect: 1,
    firstFrame: 1001,
    still: false,
    stamp: `${id} of today`,
    passes: [pass('beauty', 'beauty', 'RGBA'), pass('sun', 'light-group'), pass('haze', 'volume')],
    reading: { use: 'plate', placement: null },
    ...more,
  }) as unknown as Source;

const shown = { display: 'sRGB', view: 'Untoned', look: '', lookFile: null, exposure: 0 };

/** A shot of a render, a picture that it is to look like, and two rows; 8 by 4 pixels. */
export const standInShot = (more: Partial<Shot> = {}): Shot =>
  ({
    id: 'shot',
    name: 'Landing',
    width: 8,
    height: 4,
    workingSpace: 'ACEScg',
    viewing: shown,
    sources: [
      standInSource('render'),
      standInSource('approved', {
        declaredSpace: 'sRGB',
        still: true,
        alpha: 'none',
        passes: [pass('picture', 'beauty')],
        reading: { use: 'reference', placement: null },
      }),
    ],
    ledger: {
      document: {
        version: 2,
        alphaFrom: null,
        entries: [
          entry('sun', {
            id: 'sun',
            sourceId: 'render',
            matte: 'bright',
            adjustments: [{ kind: 'exposure', enabled: true, stops: 1 }],
          }),
          entry('haze', { id: 'haze', sourceId: 'render' }),
        ],
        mattes: { bright: { kind: 'brightness', low: 0, high: 0.1, soft: 'linear' } },
      },
    },
    places: [],
    outputs: [
      { id: 'master', name: 'master', kind: 'exr', space: 'ACES2065-1', step: 1, crop: null, width: null },
      { id: 'review', name: 'review', kind: 'png', space: null, step: 1, crop: null, width: null },
    ],
    runs: [],
    ...more,
  }) as unknown as Shot;

/** A run of an output that has written its frames. */
export const standInRun = (outputId: string, more: Partial<Run> = {}): Run =>
  ({
    id: `run of ${outputId}`,
    outputId,
    startedAt: '2026-01-01',
    changedSince: [],
    frames: [{ frame: 1001, state: 'done' }],
    ...more,
  }) as unknown as Run;
