import { describe, expect, test } from '@jest/globals';
import type { LedgerDocument } from '@june-haze/core';
import { viewingSchema, type LibraryItem, type OutputSettings } from '@june-haze/contract';
import { landingConfig, landingFiles } from '../../core/test/config/configs.ts';
import { bakedInto } from '../src/colour/bakedInto.ts';
import { changedMeanings } from '../src/colour/changedMeanings.ts';
import { lookOf } from '../src/colour/lookOf.ts';
import { curveOf, largestDifference } from '../src/screens/library/curve.ts';
import { firstChoice, nameOfChoice, openItem, stepsOfChoice } from '../src/screens/library/transforms.ts';

const viewing = (more: object = {}) => viewingSchema.parse({ display: 'sRGB', view: 'Haze', exposure: 0, ...more });
const grey = {
  id: 'a',
  kind: 'fill' as const,
  name: 'Mist',
  enabled: true,
  operation: 'over' as const,
  mix: 1,
  colour: [0.2, 0.2, 0.2] as const,
  alpha: 1,
};
const lookFile = { id: 'x', space: 'ACEScct', name: 'copper.cube' };

describe('looks in words', () => {
  test.each([
    [{}, 'no extra look'],
    [{ look: '' }, 'no look'],
    [{ look: '+dusk, -clear' }, '+dusk, -clear'],
    [{ lookFile }, 'copper.cube'],
    [{ lookFile, look: 'dusk' }, 'copper.cube and dusk'],
  ])('%j is "%s"', (more, words) => {
    expect(lookOf(viewing(more))).toBe(words);
  });

  test('the baked mark names all that is in the pixels, and a look only where the output asks for it', () => {
    const output = { bakeLook: false, kind: 'png', space: null } as OutputSettings;
    const empty: LedgerDocument = { version: 1, entries: [] };
    const all = viewing({ look: 'dusk', exposure: 1.5, gamma: 1.2 });
    expect(bakedInto(output, viewing(), empty)).toBe('view Haze');
    expect(bakedInto(output, all, empty)).toBe('view Haze, exposure 1.5, gamma 1.2');
    expect(bakedInto({ ...output, bakeLook: true }, all, empty)).toBe('view Haze, look dusk, exposure 1.5, gamma 1.2');
    expect(bakedInto({ ...output, bakeLook: true }, viewing(), empty)).toBe('view Haze');
    const adjustments = [{ kind: 'look' as const, enabled: true, look: null, lookFile }];
    const mist: LedgerDocument = { version: 1, entries: [{ ...grey, adjustments }] };
    expect(bakedInto({ ...output, kind: 'exr' }, all, mist)).toBe('look copper.cube (Mist)');
    expect(bakedInto({ ...output, kind: 'exr' }, all, empty)).toBe('');
    expect(bakedInto(output, viewing(), mist)).toBe('look copper.cube (Mist), view Haze');
  });
});

test('entries that mean another colour in another working space are those with uneven numbers per channel', () => {
  const common = { enabled: true, operation: 'plus', mix: 1 } as const;
  const fill = (name: string, colour: [number, number, number], adjustments: object[] = []) =>
    ({ ...common, kind: 'fill', id: name, name, colour, alpha: 1, adjustments }) as never;
  const gain = (red: number, enabled = true) => ({ kind: 'gain', enabled, red, green: 1, blue: 1 });
  const document: LedgerDocument = {
    version: 1,
    entries: [
      fill('grey', [0.2, 0.2, 0.2], [{ kind: 'exposure', enabled: true, stops: 2 }]),
      fill('blue', [0.1, 0.2, 0.9]),
      fill('even gain', [1, 1, 1], [gain(1)]),
      fill('switched off', [1, 1, 1], [gain(2, false)]),
      {
        ...common,
        kind: 'subtotal',
        id: 's',
        name: 's',
        adjustments: [],
        entries: [fill('inner', [1, 1, 1], [gain(2)])],
      },
    ],
  };
  expect(changedMeanings(document)).toEqual(['blue', 'inner']);
});

describe('the Library’s curves', () => {
  const item = (kind: LibraryItem['kind'], name: string) =>
    ({
      id: name,
      kind,
      name,
      version: 1,
      createdAt: '',
      facts: { files: [], bytes: 0, about: '', problems: [] },
      use: null,
      usedBy: [],
    }) as LibraryItem;
  const bytes = (text: string) => new TextEncoder().encode(text);
  const config = openItem(
    item('config', 'Landing'),
    new Map([
      ['config.ocio', bytes(landingConfig)],
      ...Object.entries(landingFiles).map(([p, t]) => [p, bytes(t)] as const),
    ]),
  );
  const table = openItem(item('lut', 'half'), new Map([['half.cube', bytes('LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')]]));

  test('a LUT is drawn over codes, with its ends held', () => {
    const { steps, axis } = stepsOfChoice(table, firstChoice(table));
    const curve = curveOf(steps, axis);
    expect(axis).toBe('codes');
    expect(curve.at[0]).toBeCloseTo(-0.05);
    expect(curve.values[0][0]).toBe(0);
    expect(curve.values[2].at(-1)).toBeCloseTo(0.5);
  });

  test('a config begins with its first view from scene-linear light, drawn over stops', () => {
    const choice = firstChoice(config);
    expect(choice).toEqual({
      kind: 'view',
      from: 'ACEScg',
      display: 'Rec.709 monitor',
      view: 'Shared Film',
      look: 'own',
    });
    expect(nameOfChoice(config, choice)).toBe('ACEScg through Rec.709 monitor / Shared Film');
    const { steps, axis } = stepsOfChoice(config, choice);
    expect(axis).toBe('stops');
    const { values } = curveOf(steps, axis);
    expect(values[0].every((x, i) => i === 0 || x >= values[0][i - 1]!)).toBe(true);
  });

  test('a view with a look differs from the one without, and by how much is found', () => {
    const view = { kind: 'view', from: 'ACEScg', display: 'sRGB screen', view: 'film', look: 'none' } as const;
    const curve = (look: string) => {
      const { steps, axis } = stepsOfChoice(config, { ...view, look });
      return curveOf(steps, axis);
    };
    expect(largestDifference(curve('none'), curve('none')).by).toBe(0);
    const apart = largestDifference(curve('none'), curve('dusk'));
    expect(apart.by).toBeGreaterThan(0.005);
    expect(apart.at).toBeGreaterThan(-10);
    expect(nameOfChoice(config, { ...view, look: 'dusk' })).toContain('film, dusk');
  });

  test('from space to space', () => {
    const { steps, axis } = stepsOfChoice(config, { kind: 'space', from: 'ACEScct', to: 'ACEScg' });
    expect([axis, steps.length > 0]).toEqual(['codes', true]);
  });
});
