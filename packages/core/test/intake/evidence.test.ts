import { describe, expect, test } from '@jest/globals';
import { ap0, ap1, p3d65, rec709, type Primaries } from '../../src/colour/primaries.ts';
import { codePointEvidence } from '../../src/formats/codePoints.ts';
import { pngEvidence, pngPixelAspect } from '../../src/formats/png.ts';
import { agrees, chromaticityEvidence, weighEvidence, type Evidence } from '../../src/intake/evidence.ts';
import { kindEvidence } from '../../src/intake/fileFacts.ts';
import { nameEvidence } from '../../src/intake/nameEvidence.ts';

const exr = (name: string, ...tags: Evidence[]) =>
  weighEvidence([...tags, ...nameEvidence(name), kindEvidence('exr', 'half', tags.length > 0)]);
const identity: Evidence = { from: 'colour identity', says: 'lin_ap1_scene', space: 'ACEScg' };
const primaries = (p: Primaries) => chromaticityEvidence(p);

test('the identity goes before chromaticities, these before a name, a name before the kind of file', () => {
  expect(exr('landing_lin_rec2020.0001.exr', identity, primaries(rec709)).guess).toBe('ACEScg');
  expect(exr('landing_lin_rec2020.0001.exr', primaries(rec709)).guess).toBe('Linear Rec.709');
  expect(exr('landing_lin_rec2020.0001.exr').guess).toBe('Linear Rec.2020');
  expect(exr('landing.0001.exr').guess).toBe('Linear Rec.709');
});

test('what agrees raises confidence, what contradicts lowers it, and everything stays listed', () => {
  const alone = exr('a.exr', primaries(ap1));
  const more = exr('a_acescg.exr', primaries(ap1));
  const less = exr('a_srgb.exr', primaries(ap1));
  expect(more.confidence).toBeGreaterThan(alone.confidence);
  expect(less.confidence).toBeLessThan(alone.confidence);
  expect(less.evidence.map((e) => [e.from, agrees(e, less.guess!)])).toEqual([
    ['chromaticities', true],
    ['file name', false],
    ['kind of file', true],
  ]);
});

test('pixels overrule the kind of file and chromaticities, never an identity', () => {
  const encoded: Evidence = { from: 'pixels', says: '256 levels', about: 'encoded', weight: 0.9 };
  expect(exr('a.exr', encoded).guess).toBe('sRGB');
  expect(exr('a.exr', primaries(rec709), encoded).guess).toBe('sRGB');
  expect(exr('a.exr', primaries(p3d65), encoded).guess).toBe('Display P3');
  expect(exr('a.exr', identity, encoded).guess).toBe('ACEScg');
  const linear: Evidence = { from: 'pixels', says: 'above 1', about: 'linear', weight: 0.75 };
  expect(exr('a_srgb.exr', linear).guess).toBe('Linear Rec.709');
});

test('a saved rule goes before everything; a DPX without a word names nothing', () => {
  const rule: Evidence = { from: 'saved rule', says: 'EXR files in x are V-Log', space: 'V-Log' };
  expect(exr('a_srgb.exr', identity, rule).guess).toBe('V-Log');
  expect(weighEvidence([kindEvidence('dpx', 'uint10', false)])).toMatchObject({ confidence: 0 });
});

test.each([
  ['plate_slog3_cine.0001.exr', 'S-Log3 S-Gamut3.Cine'],
  ['plate_S-Log3.0001.exr', 'S-Log3 S-Gamut3'],
  ['plate_logc.0001.exr', 'LogC3'],
  ['plate_logc3.0001.dpx', 'LogC3'],
  ['plate_logc4.0001.exr', 'LogC4'],
  ['plate_vlog.0001.exr', 'V-Log'],
  ['grade_acescct.0001.exr', 'ACEScct'],
  ['grade_log3g10.0001.exr', 'Log3G10'],
  ['comp_ACEScg.0001.exr', 'ACEScg'],
  ['comp_linear_rec709.0001.exr', 'Linear Rec.709'],
  ['comp_srgb_linear.0001.exr', 'Linear Rec.709'],
  ['comp_lin_p3d65_scene.exr', 'Linear P3-D65'],
  ['still display-p3.png', 'Display P3'],
  ['show_bt1886.mov', 'BT.1886'],
  ['show.rec709.mov', 'Rec.709'],
])('a name with a token: %s says %s (common practice, no source)', (name, space) => {
  expect(nameEvidence(name)[0]).toMatchObject({ space });
});

test.each(['logo.0001.exr', 'catalogue_c.exr', 'clinic.exr', 'dialog_c.exr', 'apq.exr'])('%s says nothing', (name) => {
  expect(nameEvidence(name)).toEqual([]);
});

test('"linear" alone says no primaries, and makes a picture integer linear', () => {
  expect(nameEvidence('plate_lin.png')).toMatchObject([{ about: 'linear' }]);
  const { guess } = weighEvidence([...nameEvidence('plate_lin.png'), kindEvidence('png', 'uint8', false)]);
  expect(guess).toBe('Linear Rec.709');
});

test('evidence agrees, contradicts, or says nothing about a declared space', () => {
  const tag = primaries(ap1);
  expect(agrees(tag, 'ACEScg')).toBe(true);
  // A log space of the same primaries does not contradict them.
  expect(agrees(tag, 'ACEScct')).toBe(true);
  expect(agrees(tag, 'Linear Rec.709')).toBe(false);
  expect(agrees(primaries({ ...p3d65, red: [0.5, 0.4] }), 'ACEScg')).toBeUndefined();
  expect(agrees({ from: 'file name', says: '', space: 'ACES2065-1' }, 'ACEScg')).toBe(false);
  const ruledOut: Evidence = { from: 'pixels', says: '', against: 'ACES2065-1' };
  expect([agrees(ruledOut, 'ACES2065-1'), agrees(ruledOut, 'ACEScg')]).toEqual([false, undefined]);
  // A tag of gamma 2.2 stands for the sRGB curve as well.
  expect(agrees({ from: 'colour tags', says: 'gAMA', space: 'Gamma 2.2' }, 'sRGB')).toBe(true);
  expect(ap0.white).toEqual(ap1.white);
});

describe('tags of pictures', () => {
  const chunk = (type: string, ...bytes: number[]) => [
    ...[0, 0, 0, bytes.length],
    ...[...type].map((c) => c.charCodeAt(0)),
    ...bytes,
    ...[0, 0, 0, 0],
  ];
  const png = (...chunks: number[][]) => Uint8Array.from([137, 80, 78, 71, 13, 10, 26, 10, ...chunks.flat()]);
  const uints = (...all: number[]) => all.flatMap((n) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255]);

  // PNG third edition, 11.3.2: cICP before sRGB before gAMA; code points of ITU-T H.273, tables 2 and 3.
  test('cICP, sRGB, gAMA and cHRM in their order; gAMA beside the others says nothing of its own', () => {
    const gama = chunk('gAMA', ...uints(45455));
    expect(pngEvidence(png(gama))[0]).toMatchObject({ space: 'sRGB' });
    expect(pngEvidence(png(chunk('gAMA', ...uints(100000))))[0]).toMatchObject({ space: 'Linear Rec.709' });
    expect(pngEvidence(png(gama, chunk('sRGB', 0))).map((e) => e.says)).toEqual(['sRGB chunk']);
    expect(pngEvidence(png(chunk('sRGB', 0), chunk('cICP', 9, 16, 0, 1)))[0]).toMatchObject({ space: 'PQ' });
    const p3 = chunk('cHRM', ...uints(31270, 32900, 68000, 32000, 26500, 69000, 15000, 6000));
    expect(pngEvidence(png(p3))[0]).toMatchObject({ from: 'chromaticities', space: 'Linear P3-D65' });
    expect(pngPixelAspect(png(chunk('pHYs', ...uints(1000, 2000), 0)))).toBe(2);
    expect(pngEvidence(png(gama).subarray(0, 15))).toEqual([]);
  });

  test('primaries of a picture do not make it linear', () => {
    const tags = pngEvidence(png(chunk('cHRM', ...uints(31270, 32900, 64000, 33000, 30000, 60000, 15000, 6000))));
    expect(weighEvidence([...tags, kindEvidence('png', 'uint8', true)]).guess).toBe('sRGB');
  });

  test.each([
    [1, 1, 'Rec.709'],
    [1, 13, 'sRGB'],
    [9, 16, 'PQ'],
    [9, 18, 'HLG'],
    [12, 13, 'Display P3'],
    [1, 8, 'Linear Rec.709'],
  ])('H.273 code points %d, %d are %s', (primary, transfer, space) => {
    expect(codePointEvidence(primary, transfer, 'tags')[0]).toMatchObject({ space });
  });
  test('code points of unspecified say nothing', () => expect(codePointEvidence(2, 2, 'tags')).toEqual([]));
});
