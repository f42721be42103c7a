import { builtinColour } from '@june-haze/core';
import {
  outputSettingsSchema,
  sourceFactsSchema,
  sourceReadingSchema,
  type Shot,
  type Source,
} from '@june-haze/contract';

/** Invented material: the passes of shot Landing as they are stored when it is brought in. */
const names = [
  ['beauty', 'beauty'],
  ['diffuse_direct', 'diffuse-direct'],
  ['specular_direct', 'specular-direct'],
  ['light_sun', 'light-group'],
  ['depth', 'depth'],
] as const;

export const landingFacts = sourceFactsSchema.parse({
  firstFrame: 1001,
  lastFrame: 1004,
  still: false,
  missing: [1003],
  damaged: [],
  width: 32,
  height: 18,
  rate: 24,
  compression: 'zip',
  sampleType: 'half',
  bytesPerFrame: 1000,
  passes: names.map(([name, role]) => ({
    name,
    role,
    part: 0,
    channels: ['R', 'G', 'B'].map((component) => ({ component, name: `${name}.${component}`, type: 'half' })),
  })),
  attributes: {},
  evidence: [],
});

export const landingSource = (change: Partial<Source> = {}): Source => ({
  id: 'a3f1c2de-0000-4000-8000-000000000001',
  name: 'landing.####.exr',
  folder: 'media/landing',
  pattern: 'landing.####.exr',
  ...landingFacts,
  passes: landingFacts.passes.map((p) => ({ ...p, channels: [...p.channels] })),
  layout: ['15 half channels; scan lines, ZIP; 32 × 18 from 0, 0'],
  evidence: [],
  declaredSpace: 'ACEScg',
  confirmed: true,
  confirmedBy: null,
  reading: sourceReadingSchema.parse({}),
  offset: 0,
  stored: { rate: 24, firstFrame: 1001, pixelAspect: 1, alpha: 'none', range: null },
  check: { stage: 'done', done: 0, count: 0, message: null },
  stamp: 'as-it-is',
  problems: [],
  ...change,
});

export const masterSettings = outputSettingsSchema.parse({
  name: 'Master',
  kind: 'exr',
  sampleType: 'half',
  compression: 'zip',
  firstFrame: 1001,
  lastFrame: 1004,
});

export const plainViewing = {
  display: 'sRGB',
  view: 'ACES SDR',
  exposure: 0,
  black: 0,
  white: 1,
  gamma: 1,
  look: null,
  lookFile: null,
};

export const landingShot = (change: Partial<Shot> = {}): Shot => ({
  id: 'a3f1c2de-0000-4000-8000-000000000000',
  name: 'Landing',
  firstFrame: 1001,
  lastFrame: 1004,
  rate: 24,
  places: [],
  match: { source: null, pass: null, reference: null, frame: 1001, note: '', proof: null, canUndo: false },
  width: 32,
  height: 18,
  snapshot: 1,
  updatedAt: '2026-06-01T05:00:00.000Z',
  proofs: {
    intake: { state: 'unproved', figure: '' },
    match: { state: 'unproved', figure: '' },
    build: { state: 'unproved', figure: '' },
    output: { state: 'unproved', figure: '' },
  },
  strip: [],
  workingSpace: 'ACEScg',
  viewing: plainViewing,
  colour: builtinColour,
  sources: [],
  ledger: { revision: 0, document: { version: 1, entries: [] }, canUndo: false, canRedo: false, summary: 'empty' },
  balances: [],
  outputs: [],
  runs: [],
  notices: [],
  ...change,
});
