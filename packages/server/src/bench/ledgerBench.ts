import {
  evaluate,
  Heap,
  kernels,
  prepareSteps,
  wholeNodes,
  type InputPlanes,
  type Plan,
  type Plane,
  type Size,
} from '@june-haze/core';
import { openFramePart, type FrameFiles } from '../compute/evaluateFrame.ts';
import { colourKey } from '../library/items.ts';
import { colourOf } from '../library/store.ts';
import type { Engine } from '../open.ts';
import { ledgerState } from '../shots/ledger.ts';
import { frameFiles, planOf } from '../shots/plan.ts';
import { readShot } from '../shots/shots.ts';

export interface LedgerBench {
  readonly runs: number[];
  readonly entries: number;
  readonly width: number;
  readonly height: number;
  readonly threads: number;
  readonly peakBytes: number;
}

/**
 * Times a shot's ledger over one whole frame, through its view to codes, from planes in memory, on this thread. A `size` that is not the
 * shot's takes the nearest samples. The first run, which warms up, does not count. Throws an Error when there is no such shot.
 */
export async function benchLedger(
  { connection, pool, media, places }: Engine,
  shotName: string,
  options: { readonly frame?: number; readonly size?: Size; readonly runs: number },
): Promise<LedgerBench> {
  const { db } = connection;
  const row = await db.selectFrom('shots').selectAll().where('name', 'ilike', shotName).executeTakeFirst();
  if (!row) throw new Error(`There is no shot named "${shotName}" on the shelf.`);
  const shot = await readShot(db, row);
  const frame = options.frame ?? shot.firstFrame;
  const { document } = await ledgerState(db, row.id);
  const colour = { key: await colourKey(db, row), folder: places.libraryFolder };
  const own = { width: shot.width, height: shot.height };
  const { plan, rows } = await planOf(db, pool, colour, row.id, document, shot.workingSpace, {
    frame,
    size: { width: shot.width, height: shot.height },
  });
  if (wholeNodes(plan).length) throw new Error('A ledger with a glow is not timed: it looks at the picture twice.');
  const size = options.size ?? own;
  const inputs = await planesOf(plan, await frameFiles(media, plan, rows, frame), own, size);
  const heap = new Heap(kernels());
  const view = prepareSteps(colourOf(colour).view(shot.workingSpace, shot.viewing), heap);
  const codes = new Uint8Array(size.width * size.height * 4);
  const runs: number[] = [];
  let peakBytes = 0;
  for (let i = 0; i <= options.runs; i++) {
    const started = performance.now();
    evaluate(plan, heap, {
      width: size.width,
      rows: size.height,
      inputs,
      onBand: (top, count, [r, g, b], h) => {
        const n = count * size.width;
        view(r, g, b, n);
        const mark = h.mark();
        const at = h.allocate(n * 4);
        h.kernels.packCodes(r, g, b, at, n);
        codes.set(h.bytes(at, n * 4), top * size.width * 4);
        h.release(mark);
      },
    });
    if (i > 0) runs.push(performance.now() - started);
    peakBytes = Math.max(peakBytes, process.memoryUsage.rss());
  }
  return { runs, entries: plan.entryIds.length, ...size, threads: 1, peakBytes };
}

/** A plan's planes over the whole picture, of another size by the nearest samples. */
async function planesOf(plan: Plan, files: FrameFiles, own: Size, size: Size): Promise<InputPlanes[]> {
  const read = async (sourceId: string, part: number, channel: string): Promise<Plane> => {
    const open = await openFramePart(files[sourceId]![part]!, part);
    try {
      const { planes, window } = await open.read([channel], 0, own.height);
      const [plane] = planes as [Plane];
      const to = new (plane.constructor as new (n: number) => Plane)(size.width * size.height);
      for (let y = 0; y < size.height; y++)
        for (let x = 0; x < size.width; x++) {
          const [sx, sy] = [Math.floor((x * own.width) / size.width), Math.floor((y * own.height) / size.height)];
          const [wx, wy] = [sx - window.x, sy - window.y];
          if (wx >= 0 && wy >= 0 && wx < window.width && wy < window.height)
            to[y * size.width + x] = plane[wy * window.width + wx]!;
        }
      return to;
    } finally {
      await open.close();
    }
  };
  return Promise.all(
    plan.inputs.map(async ({ sourceId, part, colour, alpha }): Promise<InputPlanes> => {
      const planes = await Promise.all(colour.map((c) => read(sourceId, part, c)));
      return {
        colour: planes as unknown as InputPlanes['colour'],
        ...(alpha ? { alpha: await read(sourceId, alpha.part, alpha.channel) } : {}),
      };
    }),
  );
}
