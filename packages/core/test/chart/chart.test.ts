import { execFileSync } from 'node:child_process';
import { describe, expect, test } from '@jest/globals';
import { CornersError, perspective, type ChartCorners } from '../../src/chart/corners.ts';
import { chartAcross, chartDown, chartPatches } from '../../src/chart/layout.ts';
import { ChartError, leastSquares, solveChart } from '../../src/chart/solve.ts';
import { chartTargets, publishedTargets } from '../../src/chart/targets.ts';
import { apply3, invert3, type Matrix3, type Vector3 } from '../../src/colour/matrix.ts';
import { rec709, toXyz } from '../../src/colour/primaries.ts';
import type { ThreePlanes } from '../../src/match/pictures.ts';
import { randomFrom } from '../operations/surroundings.ts';

const corners: ChartCorners = [
  [20, 30],
  [190, 12],
  [200, 128],
  [10, 118],
];
const mixing: Matrix3 = [0.9, 0.15, 0.02, 0.05, 0.7, 0.1, -0.02, 0.12, 0.5];

/** A picture of a chart in perspective, its paints through a matrix, with grain. Which patch a pixel shows is told by turning the map round, by search. */
function picture(grain = 0): { width: number; height: number; planes: ThreePlanes } {
  const [width, height] = [220, 140];
  const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as unknown as ThreePlanes;
  const place = perspective(corners);
  const random = randomFrom(9);
  const paints = publishedTargets().map((t) => apply3(mixing, t));
  const fine = 1200;
  for (let v = 0; v < fine; v++)
    for (let u = 0; u < fine; u++) {
      const [x, y] = place((u + 0.5) / fine, (v + 0.5) / fine).map(Math.floor) as [number, number];
      const patch = Math.floor((u * chartAcross) / fine) + chartAcross * Math.floor((v * chartDown) / fine);
      paints[patch]!.forEach((p, c) => (planes[c]![y * width + x] = p * (1 + grain * (random() - 0.5))));
    }
  return { width, height, planes };
}

describe('a chart’s corners', () => {
  test('go where they should, and lines stay lines', () => {
    const place = perspective(corners);
    const at = (u: number, v: number) => place(u, v).map((x) => Math.round(1e6 * x) / 1e6);
    expect([at(0, 0), at(1, 0), at(1, 1), at(0, 1)]).toEqual(corners);
    const [[ax, ay], [bx, by], [cx, cy]] = [place(0, 0.3), place(0.4, 0.3), place(1, 0.3)];
    expect((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)).toBeCloseTo(0, 6);
    // The middle of a quadrilateral in perspective is where its diagonals meet.
    const [mx, my] = place(0.5, 0.5);
    expect((mx - 20) * (128 - 30) - (my - 30) * (200 - 20)).toBeCloseTo(0, 6);
  });

  test('that cross or lie on a line are refused', () => {
    expect(() => perspective([corners[0], corners[2], corners[1], corners[3]])).toThrow(CornersError);
    expect(() =>
      perspective([
        [0, 0],
        [1, 1],
        [2, 2],
        [0, 4],
      ]),
    ).toThrow(CornersError);
  });
});

describe('a chart’s patches', () => {
  test('are read where they lie, with their noise', () => {
    const patches = chartPatches(picture(0.1), corners);
    expect(patches).toHaveLength(24);
    publishedTargets().forEach((t, i) =>
      apply3(mixing, t).forEach((v, c) => expect(patches[i]!.mean[c]! / v).toBeCloseTo(1, 1)),
    );
    // An even draw of a tenth has a deviation of 0.1 / √12; the mean of three channels one of a √3 less.
    expect(patches[18]!.noise).toBeCloseTo(0.1 / Math.sqrt(36), 2);
    expect(patches.every((p) => p.clipped === 0)).toBe(true);
  });

  test('pixels that are no numbers are left out and told', () => {
    const broken = picture();
    broken.planes[1].fill(Infinity, 0, 60 * broken.width);
    const patches = chartPatches(broken, corners);
    expect(patches[0]!.clipped).toBe(1);
    expect(patches[23]!.clipped).toBe(0);
  });
});

describe('the matrix of a chart', () => {
  const even = chartTargets.map(() => 1);

  test('equals numpy’s least squares, weights and all', () => {
    const random = randomFrom(2);
    const measured = publishedTargets().map(
      (t) => apply3(mixing, t).map((v) => v + 0.02 * random()) as unknown as Vector3,
    );
    const weights = even.map((_, i) => 1 + (i % 3));
    const script = `
import sys, json, numpy
m, t, w = [numpy.array(x) for x in json.loads(sys.argv[1])]
r = numpy.sqrt(w)[:, None]
matrix = numpy.linalg.lstsq(m * r, t * r, rcond=None)[0].T.ravel()
with_one = numpy.hstack([m, numpy.ones((len(m), 1))])
affine = numpy.linalg.lstsq(with_one * r, t * r, rcond=None)[0].T
print(json.dumps({'matrix': matrix.tolist(), 'affine': affine[:, :3].ravel().tolist() + affine[:, 3].tolist()}))`;
    const reference = JSON.parse(
      execFileSync('/usr/bin/python3', ['-c', script, JSON.stringify([measured, publishedTargets(), weights])], {
        encoding: 'utf8',
      }),
    ) as { matrix: number[]; affine: number[] };
    leastSquares(measured, publishedTargets(), weights).matrix.forEach((v, i) =>
      expect(v).toBeCloseTo(reference.matrix[i]!, 9),
    );
    const affine = leastSquares(measured, publishedTargets(), weights, true);
    [...affine.matrix, ...affine.offset].forEach((v, i) => expect(v).toBeCloseTo(reference.affine[i]!, 8));
  });

  test('undoes a mixing: CIEDE2000 below 1 on average, from far more', () => {
    const measured = chartPatches(picture(0.1), corners).map((p) => p.mean);
    const solved = solveChart(measured, publishedTargets(), even, toXyz(rec709));
    expect(solved.averageBefore).toBeGreaterThan(8);
    expect(solved.averageAfter).toBeLessThan(1);
    invert3(mixing).forEach((v, i) => expect(solved.matrix[i]!).toBeCloseTo(v, 1));
  });

  test('keeping exposure, it differs by one factor', () => {
    const measured = publishedTargets().map((t) => apply3(mixing, t).map((v) => 3 * v) as unknown as Vector3);
    const full = solveChart(measured, publishedTargets(), even, toXyz(rec709));
    const kept = solveChart(measured, publishedTargets(), even, toXyz(rec709), {
      keepsExposure: true,
      withOffset: false,
    });
    const factors = kept.matrix.map((v, i) => v / full.matrix[i]!);
    factors.forEach((f) => expect(f).toBeCloseTo(factors[0]!, 9));
    expect(factors[0]!).toBeGreaterThan(2);
    expect(kept.averageAfter).toBe(full.averageAfter);
  });

  test('haze over the chart is no mixing: an offset takes it off, and is offered', () => {
    const measured = publishedTargets().map((t) => apply3(mixing, t).map((v) => 0.92 * v + 0.05) as unknown as Vector3);
    const plain = solveChart(measured, publishedTargets(), even, toXyz(rec709));
    expect([plain.offset, plain.averageAfter > 2, plain.averageWithOffset < 1e-6]).toEqual([[0, 0, 0], true, true]);
    const clear = solveChart(measured, publishedTargets(), even, toXyz(rec709), {
      keepsExposure: false,
      withOffset: true,
    });
    expect(clear.averageAfter).toBeLessThan(1e-6);
    apply3(clear.matrix, [0.05, 0.05, 0.05]).forEach((v, c) => expect(v + clear.offset[c]!).toBeCloseTo(0, 9));
  });

  test('greys alone tell no matrix', () => {
    const greys = [0.1, 0.2, 0.5].map((v): Vector3 => [v, v, v]);
    expect(() => solveChart(greys, greys, [1, 1, 1], toXyz(rec709))).toThrow(ChartError);
  });
});
