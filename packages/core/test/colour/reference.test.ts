import { describe, expect, test } from '@jest/globals';
import { apply3 } from '../../src/colour/matrix.ts';
import {
  ap0,
  ap1,
  p3d65,
  luminanceWeights,
  primariesMatrix,
  rec2020,
  rec709,
  toXyz,
} from '../../src/colour/primaries.ts';
import { conversion } from '../../src/colour/conversion.ts';
import { requireSpace } from '../../src/colour/spaces.ts';
import { viewSteps } from '../../src/colour/views.ts';
import { reference, run, values, worstExcess, type Rgb } from './run.ts';

describe('published values', () => {
  test('the AP0 to AP1 matrix is that of Academy S-2014-004, 4.2 (to its 10 digits)', () => {
    const published = [
      1.4514393161, -0.2365107469, -0.2149285693, -0.0765537734, 1.1762296998, -0.0996759264, 0.0083161484,
      -0.0060324498, 0.9977163014,
    ];
    primariesMatrix(ap0, ap1).forEach((x, i) => expect(Math.abs(x - published[i]!)).toBeLessThan(5e-10));
  });

  test('luminance weights of Rec.709 and Rec.2020 are those of BT.709-6 3.2 and BT.2020-2 table 4', () => {
    [0.2126, 0.7152, 0.0722].forEach((w, i) => expect(luminanceWeights(rec709)[i]).toBeCloseTo(w, 4));
    [0.2627, 0.678, 0.0593].forEach((w, i) => expect(luminanceWeights(rec2020)[i]).toBeCloseTo(w, 4));
  });

  test('sRGB: 0.5 decodes to 0.214041 and 0.18 encodes to 0.461356 (IEC 61966-2-1)', () => {
    const [decoded] = run(conversion(requireSpace('sRGB'), requireSpace('Linear Rec.709')), [[0.5, 0.5, 0.5]]);
    const [encoded] = run(conversion(requireSpace('Linear Rec.709'), requireSpace('sRGB')), [[0.18, 0.18, 0.18]]);
    expect(decoded![0]).toBeCloseTo(0.2140411, 6);
    expect(encoded![0]).toBeCloseTo(0.4613561, 6);
  });

  test('Rec.709: 0.018 encodes to 0.081, 1 to 1 (BT.709-6 1.2); BT.1886: 0.5 decodes to 0.189465', () => {
    const rec = run(conversion(requireSpace('Linear Rec.709'), requireSpace('Rec.709')), [[0.018, 1, 0.5]]);
    expect(rec[0]![0]).toBeCloseTo(0.081, 6);
    expect(rec[0]![1]).toBeCloseTo(1, 6);
    const light = run(conversion(requireSpace('BT.1886'), requireSpace('Linear Rec.709')), [[0.5, 0.5, 0.5]]);
    expect(light[0]![0]).toBeCloseTo(0.1894646, 6);
  });
});

describe('against the reference colour library', () => {
  const all = values(true);

  test('matrices between the five sets of primaries, negatives and highlights included', () => {
    const to = (p: typeof ap0) => primariesMatrix(ap0, p);
    const cases = [
      { steps: [{ style: 'UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD' }], values: all },
      { steps: [{ style: 'UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD' }], values: all },
      { steps: [{ style: 'ACEScg_to_ACES2065-1' }], values: all },
    ];
    const [xyz0, xyz1, ap0Values] = reference(cases) as [Rgb[], Rgb[], Rgb[]];
    expect(
      worstExcess(run([{ kind: 'matrix', matrix: primariesMatrix(ap1, ap0) }], all), ap0Values, 1e-5, 1e-4),
    ).toBeLessThan(0);
    for (const p of [rec709, rec2020, p3d65]) {
      const ours = all.map((v) => apply3(toXyz(p), apply3(to(p), v)) as unknown as Rgb);
      expect(worstExcess(ours, xyz0, 1e-5, 1e-4)).toBeLessThan(0);
      const fromAp1 = all.map((v) => apply3(toXyz(p), apply3(primariesMatrix(ap1, p), v)) as unknown as Rgb);
      expect(worstExcess(fromAp1, xyz1, 1e-5, 1e-4)).toBeLessThan(0);
    }
  });

  test('sRGB both ways and the BT.1886 power (1e-5 + 3e-4: the library joins the curve with slope 12.9232, the standard rounds to 12.92)', () => {
    const [encoded, decoded, power] = reference([
      { steps: [{ gamma: 2.4, offset: 0.055, inverse: true }], values: all },
      { steps: [{ gamma: 2.4, offset: 0.055 }], values: all },
      { steps: [{ exponent: 2.4 }], values: all },
    ]) as [Rgb[], Rgb[], Rgb[]];
    const srgb = requireSpace('sRGB');
    const light = requireSpace('Linear Rec.709');
    expect(worstExcess(run(conversion(light, srgb), all), encoded, 1e-5, 3e-4)).toBeLessThan(0);
    expect(worstExcess(run(conversion(srgb, light), all), decoded, 1e-5, 3e-4)).toBeLessThan(0);
    expect(worstExcess(run(conversion(requireSpace('BT.1886'), light), all), power, 1e-5, 1e-4)).toBeLessThan(0);
  });

  test('Rec.709 both ways (3e-4 + 4e-3: the library joins the curve continuously, BT.709 rounds its constants: slopes 4.5138 and 4.5)', () => {
    const gamma = 1 / 0.45;
    const [encoded, decoded] = reference([
      { steps: [{ gamma, offset: 0.099, inverse: true }], values: all },
      { steps: [{ gamma, offset: 0.099 }], values: all },
    ]) as [Rgb[], Rgb[]];
    const video = requireSpace('Rec.709');
    const light = requireSpace('Linear Rec.709');
    expect(worstExcess(run(conversion(light, video), all), encoded, 3e-4, 4e-3)).toBeLessThan(0);
    expect(worstExcess(run(conversion(video, light), all), decoded, 3e-4, 4e-3)).toBeLessThan(0);
  });

  test('ACES 1.x SDR for sRGB and Rec.709 (tolerance 2e-4 + 2e-3 relative: the library uses tables here)', () => {
    const style = 'ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0';
    const [srgb, video] = reference([
      { steps: [{ style }, { style: 'DISPLAY - CIE-XYZ-D65_to_sRGB' }], values: all },
      { steps: [{ style }, { style: 'DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.709' }], values: all },
    ]) as [Rgb[], Rgb[]];
    const limit = (v: Rgb[]) => v.map((x) => x.map((y) => Math.min(Math.max(y, 0), 1)) as Rgb);
    const view = (display: string) => viewSteps(requireSpace('ACES2065-1'), { display, view: 'ACES SDR', exposure: 0 });
    expect(worstExcess(run(view('sRGB'), all), limit(srgb), 2e-4, 2e-3)).toBeLessThan(0);
    expect(worstExcess(run(view('Rec.709'), all), limit(video), 2e-4, 2e-3)).toBeLessThan(0);
  });
});
