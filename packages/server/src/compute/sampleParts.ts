import {
  balanceFaults,
  beautyRow,
  partsOf,
  rowsAlone,
  totalRow,
  type FaultsFound,
  type LightSamples,
} from '@june-haze/core';
import type { Pass, Plan, Size } from '@june-haze/core';
import { evaluateStrips } from '@june-haze/files';
import { openFramePart, threadHeap, type FrameFiles } from './evaluateFrame.ts';

/** About how many pixels are looked at. */
const sampledPixels = 60_000;

export interface PartsTask extends Size {
  /** A compiled `partsDocument`. */
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly passes: readonly Pass[];
  /** How often each pass stands in the total. */
  readonly counts: ReadonlyMap<string, number>;
}

/** Takes samples of a frame's total, beauty and parts, and says what keeps the total from the beauty. */
export async function findBalanceFaults({
  plan,
  files,
  width,
  height,
  passes,
  counts,
}: PartsTask): Promise<FaultsFound> {
  const step = Math.max(1, Math.round(Math.sqrt((width * height) / sampledPixels)));
  const rows = rowsAlone(plan);
  const ids = [...rows.keys()];
  const [across, down] = [Math.ceil(width / step), Math.ceil(height / step)];
  const empty = () => [0, 1, 2].map(() => new Float32Array(across * down)) as unknown as LightSamples;
  const samples = new Map(ids.map((id) => [id, empty()]));
  await evaluateStrips({
    plan,
    heap: threadHeap(),
    size: { width, height },
    totals: [...rows.values()],
    open: (sourceId, part) => openFramePart(files[sourceId]![part]!, part),
    onBand: (row, count, quad, heap, which) => {
      const into = samples.get(ids[which]!)!;
      for (let c = 0; c < 3; c++) {
        const from = heap.floats(quad[c]!, count * width);
        for (let y = 0; y < count; y++) {
          if ((row + y) % step) continue;
          const at = ((row + y) / step) * across;
          for (let x = 0; x < across; x++) into[c]![at + x] = from[y * width + x * step]!;
        }
      }
    },
  });
  const parts = partsOf({ passes }).flatMap(({ name: pass, role }) => {
    const found = samples.get(`part ${pass}`);
    return found ? [{ pass, count: counts.get(pass) ?? 0, factor: role === 'albedo', samples: found }] : [];
  });
  return balanceFaults({ total: samples.get(totalRow) ?? empty(), beauty: samples.get(beautyRow)!, parts });
}
