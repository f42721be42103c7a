import { expect, test } from '@jest/globals';
import { chartPatches, idHash, rec709, solveChart, toXyz, type ChartCorners, type ThreePlanes } from '@june-haze/core';
import { renderFrame, type FramePlanes } from '../src/index.ts';
import { cameraAt, chartCorners } from '../src/tern/scene.ts';

// Invented scene: Kettle's chart is there to be solved, so it stands in even light; haze lies over all.
const [width, height] = [480, 270];

/** Where a place lies in a picture. */
function seenAt(place: readonly number[], view: 'kettle' | 'landing', progress: number): [number, number] {
  const { at, forward, right, up, width: across } = cameraAt(progress, view);
  const towards = (axis: readonly number[]) => place.reduce((sum, p, c) => sum + (p - at[c]!) * axis[c]!, 0);
  const scale = width / across / towards(forward);
  return [width / 2 + towards(right) * scale, height / 2 - towards(up) * scale];
}

const light = (planes: FramePlanes, prefix: string) => ({
  width,
  height,
  planes: ['R', 'G', 'B'].map((c) => planes.get(prefix + c)!) as unknown as ThreePlanes,
});

test('one matrix and an offset for the haze bring Kettle’s chart to its paints: CIEDE2000 below 1', () => {
  const planes = renderFrame({ width, height, progress: 0, seed: 1001, side: 3, view: 'kettle' });
  const corners = chartCorners.map((c) => seenAt(c, 'kettle', 0)) as unknown as ChartCorners;
  for (const [x, y] of corners) expect(x > 4 && y > 4 && x < width - 4 && y < height - 4).toBe(true);
  const [measured, paints] = ['', 'albedo.'].map((p) => chartPatches(light(planes, p), corners).map((c) => c.mean));
  const weights = paints!.map(() => 1);
  const solved = solveChart(measured!, paints!, weights, toXyz(rec709), { keepsExposure: false, withOffset: true });
  expect(solved.averageBefore).toBeGreaterThan(5);
  expect(solved.averageAfter).toBeLessThan(1);
});

test.each(['landing', 'lastBoat'] as const)('%s does not see the chart', (view) => {
  for (const progress of [0, 1]) {
    const seen = renderFrame({ width: 160, height: 90, progress, seed: 1001, side: 3, view });
    const chart = idHash('chart').float;
    expect(seen.get('crypto_object00.R')!.some((v) => v === chart)).toBe(false);
  }
});
