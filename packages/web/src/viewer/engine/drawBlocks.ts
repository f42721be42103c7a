import {
  beforeClipping,
  countBandCodes,
  countBandLight,
  drawInspected,
  evaluate,
  flagGamut,
  flagNumbers,
  markWarnings,
  noScopes,
  prepareFindCut,
  prepareSteps,
  shownSteps,
  toXyz,
  warningBit,
  warningKinds,
  type Evaluation,
  type FindCut,
  type Heap,
  type Matrix3,
  type Quad,
  type ScopeCounts,
  type ShotColour,
} from '@june-haze/core';
import type { KeptPieces, PreparedView } from './keptPieces.ts';
import type { Answer, PictureJob, Share } from './messages.ts';
import { takeBlocks } from './takeBlocks.ts';

export type Place = Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'>;

/** The viewing of a picture, ready to run; kept while the same one is asked for. */
export function prepareView(
  { colour: key, workingSpace, showing, warn }: PictureJob,
  colour: ShotColour,
  kept: KeptPieces,
): PreparedView {
  return kept.prepareView(JSON.stringify([key, workingSpace, showing, warn.length > 0]), (into) => {
    const steps = shownSteps(colour, workingSpace, showing);
    const looks = showing.off.includes('look') || showing.off.includes('display') || showing.plain;
    return {
      run: prepareSteps(steps, into),
      findClipped: looks ? undefined : prepareFindCut(colour.lookSteps(workingSpace, showing.viewing), into),
      warnings: warn.length ? prepareWarnings(steps, into) : undefined,
    };
  });
}

function prepareWarnings(steps: ReturnType<typeof shownSteps>, into: Heap): PreparedView['warnings'] {
  const before = beforeClipping(steps);
  return {
    findCut: prepareFindCut(steps, into),
    beforeDisplay: before && { run: prepareSteps(before.steps, into), ends: before.ends },
  };
}

/** Draws a worker's share of a picture's blocks: through the viewing or as its numbers are looked at, marked and counted as was asked. */
export function drawBlocks(
  job: PictureJob,
  share: Share,
  shared: Uint8Array | undefined,
  { heap, kept, colour, place }: { heap: Heap; kept: KeptPieces; colour: ShotColour; place: Place },
): Answer {
  const { plan, width, height } = job;
  const view = prepareView(job, colour, kept);
  kept.begin(job);
  const blocks: { top: number; rgba: Uint8Array }[] = [];
  const drawing = new BandDrawing(job, view, colour, heap);
  takeBlocks(height, share, (top, end) => {
    const keeping = kept.of(job, place, top, end);
    const mark = heap.mark();
    const rgba = shared?.subarray(top * width * 4, end * width * 4) ?? new Uint8Array((end - top) * width * 4);
    if (!shared) blocks.push({ top, rgba });
    const onBand = (row: number, count: number, total: Quad) =>
      drawing.draw(total, { top: top + row, rows: count }, rgba.subarray(row * width * 4, (row + count) * width * 4));
    evaluate(plan, heap, { ...place, ...keeping, firstRow: top, rows: end - top, onBand });
    heap.release(mark);
  });
  const { clipped, warned, scopes } = drawing;
  return {
    kind: 'picture',
    blocks,
    warned,
    keptBytes: kept.bytes,
    ...(clipped === undefined ? {} : { clipped }),
    ...(scopes ? { scopes } : {}),
  };
}

/** Draws bands of one picture, and counts over all of them. */
class BandDrawing {
  private readonly job: PictureJob;
  private readonly view: PreparedView;
  private readonly heap: Heap;
  private readonly toXyz: Matrix3 | undefined;
  clipped: number | undefined;
  readonly warned = warningKinds.map(() => 0);
  readonly scopes: ScopeCounts | undefined;

  constructor(job: PictureJob, view: PreparedView, colour: ShotColour, heap: Heap) {
    this.job = job;
    this.view = view;
    this.heap = heap;
    const twin = colour.linearTwin(job.workingSpace);
    this.toXyz = job.scopes && twin && toXyz(twin.primaries);
    this.scopes = job.scopes && noScopes();
    this.clipped = view.findClipped ? 0 : undefined;
  }

  draw(total: Quad, { top, rows }: { top: number; rows: number }, to: Uint8Array): void {
    const { job, view, heap } = this;
    const { plan, width, scopes } = job;
    const n = rows * width;
    const band = { top, rows, width };
    if (view.findClipped) this.clipped! += onCopies(total, n, heap, view.findClipped);
    if (this.scopes) {
      const of = { luminance: plan.luminance, toXyz: this.toXyz, heap };
      countBandLight([total[0], total[1], total[2]], band, scopes!, of, this.scopes);
    }
    const flags = view.warnings && this.flags(total, n, view.warnings);
    if (job.show === 'difference') amplify(total, n, to, heap);
    else drawInspected(total, n, to, { inspection: job.inspection, view: view.run, luminance: plan.luminance, heap });
    if (this.scopes) countBandCodes(to, band, scopes!, this.scopes);
    if (flags) markWarnings(to, flags, job.warn, this.warned);
  }

  private flags(total: Quad, n: number, { findCut, beforeDisplay }: NonNullable<PreparedView['warnings']>): Uint8Array {
    const { heap } = this;
    const flags = new Uint8Array(n);
    flagNumbers(
      [0, 1, 2].map((c) => heap.floats(total[c]!, n)),
      flags,
    );
    if (findCut) onCopies(total, n, heap, (r, g, b, count) => findCut(r, g, b, count, flags, warningBit('lut')));
    if (beforeDisplay)
      onCopies(total, n, heap, (r, g, b, count) => {
        beforeDisplay.run(r, g, b, count);
        flagGamut(
          [r, g, b].map((p) => heap.floats(p, count)),
          beforeDisplay.ends,
          flags,
        );
        return 0;
      });
    return flags;
  }
}

/** Runs something on copies of the total's planes. */
function onCopies(total: Quad, n: number, heap: Heap, run: FindCut): number {
  const mark = heap.mark();
  const copies = [0, 1, 2].map((c) => {
    const at = heap.allocatePlane(n);
    heap.kernels.copyPlane(at, total[c]!, n);
    return at;
  }) as [number, number, number];
  const counted = run(...copies, n);
  heap.release(mark);
  return counted;
}

/** Shows a difference of one hundredth as white. */
function amplify(total: Quad, n: number, to: Uint8Array, heap: Heap): void {
  for (const p of total.slice(0, 3)) {
    const plane = heap.floats(p, n);
    for (let i = 0; i < n; i++) plane[i] = Math.abs(plane[i]!) * 100;
  }
  const mark = heap.mark();
  const codes = heap.allocate(n * 4);
  heap.kernels.packCodes(total[0], total[1], total[2], codes, n);
  to.set(heap.bytes(codes, n * 4));
  heap.release(mark);
}
