import { expect, test } from '@jest/globals';
import { ap0, ap1, p3d65, rec709, type Primaries } from '../../src/colour/primaries.ts';
import type { ExrAttribute } from '../../src/exr/types.ts';
import { agrees, guessSpace } from '../../src/proof/tags.ts';

const header = (more: Record<string, ExrAttribute>) => new Map(Object.entries(more));
const chromaticities = (value: Primaries): ExrAttribute => ({ type: 'chromaticities', value });
const text = (value: string): ExrAttribute => ({ type: 'string', value });

test('the identity goes before chromaticities, these before a name, a name before the kind of file', () => {
  const all = { colorInteropID: text('lin_ap1_scene'), chromaticities: chromaticities(rec709) };
  expect(guessSpace('landing_lin_rec2020.0001.exr', header(all)).guess).toBe('ACEScg');
  const less = { chromaticities: all.chromaticities };
  expect(guessSpace('landing_lin_rec2020.0001.exr', header(less)).guess).toBe('Linear Rec.709');
  expect(guessSpace('landing_lin_rec2020.0001.exr', header({})).guess).toBe('Linear Rec.2020');
  expect(guessSpace('landing.0001.exr', header({})).guess).toBe('Linear Rec.709');
});

test('the flag of the ACES container says ACES2065-1', () => {
  const { guess, evidence } = guessSpace('a.exr', header({ acesImageContainerFlag: { type: 'int', value: 1 } }));
  expect(guess).toBe('ACES2065-1');
  expect(evidence[0]).toMatchObject({ from: 'ACES container flag' });
  expect(guessSpace('a.exr', header({ acesImageContainerFlag: { type: 'int', value: 0 } })).guess).toBe(
    'Linear Rec.709',
  );
});

test('every piece is listed, whatever it says; unknown primaries name no space', () => {
  const odd = { ...p3d65, red: [0.5, 0.4] as const };
  const { evidence } = guessSpace('kettle_srgb.0001.exr', header({ chromaticities: chromaticities(odd) }));
  expect(evidence.map((e) => [e.from, e.space])).toEqual([
    ['chromaticities', undefined],
    ['file name', 'sRGB'],
    ['kind of file', undefined],
  ]);
});

test.each([
  ['plate_slog3_cine.0001.exr', 'S-Log3 S-Gamut3.Cine'],
  ['plate_S-Log3.0001.exr', 'S-Log3 S-Gamut3'],
  ['plate_logc.0001.exr', 'LogC3'],
  ['plate_logc4.0001.exr', 'LogC4'],
  ['plate_vlog.0001.exr', 'V-Log'],
  ['grade_acescct.0001.exr', 'ACEScct'],
  ['grade_log3g10.0001.exr', 'Log3G10'],
  ['comp_ACEScg.0001.exr', 'ACEScg'],
  ['logo.0001.exr', 'Linear Rec.709'],
])('a name with a token: %s is %s (common practice, no source)', (name, space) => {
  expect(guessSpace(name, header({})).guess).toBe(space);
});

test('evidence agrees, contradicts, or says nothing about a declared space', () => {
  const { evidence } = guessSpace('a.exr', header({ chromaticities: chromaticities(ap1) }));
  const [primaries, kind] = evidence;
  expect(agrees(primaries!, 'ACEScg')).toBe(true);
  // A log space of the same primaries does not contradict them.
  expect(agrees(primaries!, 'ACEScct')).toBe(true);
  expect(agrees(primaries!, 'Linear Rec.709')).toBe(false);
  expect(agrees(kind!, 'ACEScg')).toBeUndefined();
  expect(agrees({ from: 'file name', says: 'ACES2065-1', space: 'ACES2065-1' }, 'ACEScg')).toBe(false);
  expect(ap0.white).toEqual(ap1.white);
});
