import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { deriveView, type DerivedView } from '../../src/match/deriveView.ts';
import { throughCube } from '../../src/match/fittedCube.ts';
import { atRising, risingCurve } from '../../src/match/monotone.ts';
import { throughSteps } from '../../src/match/candidates.ts';
import { deltaEOfCodes } from '../../src/proof/ciede2000.ts';
import type { LightPicture } from '../../src/match/pictures.ts';
import { frame, heap, planesOf, saveAs, type Truth, hazeTruth } from './cases.ts';

const toLog = new ShotColour().conversion('ACEScg', 'ACEScct');

/** CIEDE2000 at a share of a frame's pixels, between what a derived view and the true one make of it. */
function apart(view: DerivedView, light: LightPicture, truth: Truth, share: number): number {
  const n = light.width * light.height;
  const places = Float64Array.from(
    throughSteps(toLog, heap, n, (i) => light.planes.map((p) => p[i]!) as [number, number, number]),
  );
  const codes = throughCube(view.codes, view.size, { count: n, places, values: places });
  const [made, wanted] = [new Uint8ClampedArray(4 * n), new Uint8ClampedArray(saveAs(truth, light))];
  for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) made[4 * i + c] = 255 * codes[3 * i + c]!;
  const all = Array.from({ length: n }, (_, i) => deltaEOfCodes(made, wanted, 4 * i, 'srgb')).sort((a, b) => a - b);
  return all[Math.ceil(share * n) - 1]!;
}

const pairOf = (light: LightPicture, truth = hazeTruth) => ({
  light,
  picture: { ...light, planes: planesOf(saveAs(truth, light)) },
});

describe('a view derived from a pair', () => {
  const light = frame(50, 240, 135);
  const view = deriveView([pairOf(light)], toLog, 'srgb', heap);

  test('reproduces the true view on a frame that it did not see: CIEDE2000 below 1 for 95 % of it', () => {
    expect(apart(view, frame(50, 240, 135, 9), hazeTruth, 0.95)).toBeLessThan(1);
  });

  test('says honestly how it does on what it did not see, and that the cube is better than curves alone', () => {
    const measured = apart(view, frame(50, 240, 135, 9), hazeTruth, 0.95);
    expect(view.unseen.p95).toBeLessThan(1.5);
    expect(Math.abs(view.unseen.p95 - measured)).toBeLessThan(0.6);
    expect(view.unseen.p95).toBeLessThan(view.curvesAlone.p95);
    expect(view.coverage).toBeGreaterThan(0);
    expect(view.coverage).toBeLessThan(0.6);
  });

  test('greys stay in order, in what was seen and beyond', () => {
    const greys = Float64Array.from({ length: 3 * 40 }, (_, i) => 0.1 + (0.85 * Math.floor(i / 3)) / 39);
    const codes = throughCube(view.codes, view.size, { count: 40, places: greys, values: greys });
    for (let i = 1; i < 40; i++) expect(codes[3 * i + 1]!).toBeGreaterThan(codes[3 * i - 2]! - 0.004);
  });

  test('of another place, whose colours it never saw, it draws on: not exact, not wild', () => {
    expect(apart(view, frame(51, 240, 135), hazeTruth, 0.95)).toBeLessThan(8);
  });
});

describe('a rising curve', () => {
  test('pools what falls, and keeps what rises', () => {
    const places = Float64Array.of(0.1, 0.3, 0.5, 0.7, 0.9);
    const rising = risingCurve(places, Float64Array.of(0.1, 0.3, 0.5, 0.7, 0.9));
    [0.1, 0.5, 0.9].forEach((x) => expect(atRising(rising, x)).toBeCloseTo(x, 1));
    const pooled = risingCurve(places, Float64Array.of(0, 0.6, 0.2, 0.8, 1));
    // 0.6 and 0.2 fall: both become their mean.
    expect([atRising(pooled, 0.3), atRising(pooled, 0.5)].map((v) => Math.round(100 * v))).toEqual([40, 40]);
    for (let i = 1; i < pooled.length; i++) expect(pooled[i]!).toBeGreaterThanOrEqual(pooled[i - 1]! - 1e-12);
    expect([atRising(pooled, -1), atRising(pooled, 2)]).toEqual([pooled[0], pooled.at(-1)]);
  });
});
