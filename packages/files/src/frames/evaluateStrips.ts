import {
  emptyWhole,
  evaluate,
  completeWhole,
  gather,
  gatherRows,
  neededRows,
  PlanError,
  summarise,
  whyOtherSize,
  wholeNodes,
  type Heap,
  type InputPlanes,
  type LedgerSummary,
  type Plan,
  type Quad,
  type RowRange,
  type RowStatistics,
  type Size,
  type WholePicture,
} from '@june-haze/core';
import type { OpenPart } from './openPart.ts';

/** What planes of a strip and the work on them may take, about, when nothing else is asked for. */
const usualBytes = 128 << 20;

export interface StripJob {
  readonly plan: Plan;
  readonly heap: Heap;
  readonly size: Size;
  /** Opens a part of a source's frame; each is opened once and closed at the end. */
  readonly open: (sourceId: string, part: number) => Promise<OpenPart>;
  readonly statistics?: boolean;
  /** Totals that are evaluated in place of the plan's own, over its inputs; see `rowsAlone`. */
  readonly totals?: readonly Plan[];
  /** What planes of a strip and the work on them may take, about, in bytes. */
  readonly memory?: number;
  /** Called with finished rows in order, from the top, of each total; see `Evaluation.onBand`. */
  readonly onBand: (row: number, rows: number, total: Quad, heap: Heap, which: number) => void;
  /** Called when a strip is finished, before the next is read: who writes may write it. */
  readonly onStrip?: (top: number, end: number) => Promise<void>;
}

/**
 * Evaluates a frame strip by strip: memory is bounded by the strip, whatever the picture's size and however many passes it has. Throws a
 * PlanError for a picture of another size than the plan was compiled for, and the files' own errors.
 */
export async function evaluateStrips(job: StripJob): Promise<LedgerSummary | undefined> {
  const { plan, heap, size } = job;
  const { width, height } = size;
  const inputs = new StripInputs(job);
  try {
    const each = stripRows(plan, size, job.memory ?? usualBytes);
    const whole = new Map<number, WholePicture>();
    for (const node of wholeNodes(plan)) {
      const into = emptyWhole(plan, node, width, height, 0);
      const rows = Math.max(gatherRows, Math.floor(each / gatherRows) * gatherRows);
      for (let top = 0; top < height; top += rows) {
        const end = Math.min(height, top + rows);
        const needed = neededRows(plan, { top, end, height, level: 0, node });
        const planes = await inputs.read(needed);
        gather(plan, heap, { width, height, firstRow: top, rows: end - top, inputs: planes, whole }, node, into);
      }
      completeWhole(plan, heap, node, into, 0);
      whole.set(node, into);
    }
    const statistics: RowStatistics[] = [];
    for (let top = 0; top < height; top += each) {
      const end = Math.min(height, top + each);
      const planes = await inputs.read(neededRows(plan, { top, end, height, level: 0 }));
      for (const [which, evaluated] of (job.totals ?? [plan]).entries()) {
        const found = evaluate(evaluated, heap, {
          width,
          height,
          firstRow: top,
          rows: end - top,
          inputs: planes,
          whole,
          ...(job.statistics ? { statistics: true } : {}),
          onBand: (row, rows, total, h) => job.onBand(top + row, rows, total, h, which),
        });
        if (found) statistics.push(found);
      }
      await job.onStrip?.(top, end);
    }
    return job.statistics ? summarise(plan, statistics) : undefined;
  } finally {
    await inputs.close();
  }
}

/** Rows of a strip: what its planes take stays near the budget; whole chunks of the usual codecs where they fit. */
function stripRows(plan: Plan, { width, height }: Size, memory: number): number {
  const samples = plan.inputs.reduce((n, i) => n + new Set(i.colour).size + (i.alpha ? 1 : 0), 0);
  const perRow = width * (samples * 4 + plan.nodes.length * 16);
  const rows = Math.max(16, Math.floor(memory / perRow));
  if (rows >= height) return height;
  return rows >= gatherRows ? Math.floor(rows / gatherRows) * gatherRows : Math.max(16, Math.floor(rows / 32) * 32);
}

/** A plan's inputs, read by rows from the parts that hold them. */
class StripInputs {
  private readonly job: StripJob;
  private readonly parts = new Map<string, Promise<OpenPart>>();

  constructor(job: StripJob) {
    this.job = job;
  }

  async close(): Promise<void> {
    const opened = await Promise.allSettled(this.parts.values());
    await Promise.all(opened.map((o) => (o.status === 'fulfilled' ? o.value.close() : undefined)));
  }

  /** Each part is read once for all inputs that it serves. */
  async read(needed: readonly (RowRange | undefined)[]): Promise<InputPlanes[]> {
    const { plan } = this.job;
    const wanted = new Map<string, { part: OpenPart; channels: Set<string>; top: number; end: number }>();
    const want = async (sourceId: string, part: number, channels: readonly string[], [top, end]: RowRange) => {
      const key = `${sourceId}/${part}`;
      const open = await this.part(sourceId, part);
      const known = wanted.get(key) ?? { part: open, channels: new Set<string>(), top, end };
      channels.forEach((c) => known.channels.add(c));
      [known.top, known.end] = [Math.min(known.top, top), Math.max(known.end, end)];
      wanted.set(key, known);
    };
    for (const [i, input] of plan.inputs.entries()) {
      const rows = needed[i];
      if (!rows) continue;
      await want(input.sourceId, input.part, input.colour, rows);
      if (input.alpha) await want(input.sourceId, input.alpha.part, [input.alpha.channel], rows);
    }
    const found = new Map<string, Awaited<ReturnType<OpenPart['read']>> & { at: Map<string, number>; data: Window }>();
    for (const [key, { part, channels, top, end }] of wanted) {
      const names = [...channels];
      const read = await part.read(names, top, end);
      found.set(key, { ...read, at: new Map(names.map((n, i) => [n, i])), data: part.data });
    }
    return plan.inputs.map((input, i): InputPlanes => {
      if (!needed[i]) return unread;
      const own = found.get(`${input.sourceId}/${input.part}`)!;
      const colour = input.colour.map((c) => own.planes[own.at.get(c)!]!) as unknown as InputPlanes['colour'];
      const base = { colour, window: own.window, data: own.data };
      if (!input.alpha) return base;
      const other = found.get(`${input.sourceId}/${input.alpha.part}`)!;
      const alpha = other.planes[other.at.get(input.alpha.channel)!]!;
      if (JSON.stringify(other.window) !== JSON.stringify(own.window))
        throw new PlanError(`${other.data.width}×${other.data.height}: alpha has another data window than its colour.`);
      return { ...base, alpha };
    });
  }

  private part(sourceId: string, part: number): Promise<OpenPart> {
    const key = `${sourceId}/${part}`;
    const known = this.parts.get(key);
    if (known) return known;
    const opened = this.job.open(sourceId, part).then(async (o) => {
      const other = this.whyNotOfItsSize(sourceId, o);
      if (other === undefined) return o;
      await o.close();
      throw new PlanError(other);
    });
    this.parts.set(key, opened);
    return opened;
  }

  private whyNotOfItsSize(sourceId: string, part: OpenPart): string | undefined {
    const { plan, size } = this.job;
    const placed = plan.nodes.flatMap((n) =>
      n.kind === 'place' && plan.inputs[n.input]!.sourceId === sourceId ? [n.size] : [],
    );
    return whyOtherSize(part.name, part.size, placed[0] ?? size);
  }
}

type Window = OpenPart['data'];
const nothing = new Float32Array();
const unread: InputPlanes = {
  colour: [nothing, nothing, nothing],
  window: { x: 0, y: 0, width: 0, height: 0 },
};
