import type { Quad } from '../operations/blend.ts';
import { findBlend } from '../operations/registry.ts';
import type { KeptTotal, Surroundings } from './evaluation.ts';
import { loadPicture, loadPlanes } from './load.ts';
import { mattePlane } from './matteBlock.ts';
import type { PlanStep, RunNode } from './plan.ts';
import { prepareChanges, type PreparedChanges } from './preparedChanges.ts';

/** A step with its constants in the heap, and those of a subtotal's own steps. */
interface PreparedStep {
  readonly step: PlanStep;
  readonly changes: PreparedChanges;
  readonly inner: readonly PreparedStep[];
}

/** The buffers and prepared steps of one run; a block of rows goes through all of them while it lies in the cache. */
export class Blocks {
  private readonly e: Surroundings;
  private readonly node: RunNode;
  /** What it begins with, in place of its first steps. */
  private readonly kept: KeptTotal | undefined;
  private readonly steps: readonly PreparedStep[];
  /** The running total of each depth of subtotals. */
  private readonly totals: Quad[];
  private readonly entry: Quad;
  private readonly result: Quad;
  /** Luminance of each depth's running total by row of the block: an entry adds what it changes this by. */
  private readonly sums: Float64Array[];

  constructor(e: Surroundings, node: RunNode, rows: number, kept?: KeptTotal) {
    this.e = e;
    this.node = node;
    this.kept = kept;
    const steps = kept ? node.steps.slice(kept.steps) : node.steps;
    const samples = rows * e.width;
    this.totals = Array.from({ length: depthOf(steps) }, () => e.quad(samples));
    this.entry = e.quad(samples);
    this.result = e.quad(samples);
    this.sums = this.totals.map(() => new Float64Array(rows));
    const prepare = (step: PlanStep): PreparedStep => ({
      step,
      changes: prepareChanges(step.changes, e),
      inner: step.picture.kind === 'subtotal' ? step.picture.steps.map(prepare) : [],
    });
    this.steps = steps.map(prepare);
  }

  /** Makes the nodes that the run lays down, for all rows at once: they may look at neighbours. */
  prepare(top: number, end: number): void {
    if (!this.kept && this.node.from !== undefined) this.e.rows(this.node.from, top, end);
    if (!this.kept && this.node.startAlpha?.kind === 'node') this.e.rows(this.node.startAlpha.node, top, end);
    const visit = ({ step, inner }: PreparedStep): void => {
      if (step.picture.kind === 'node') this.e.rows(step.picture.node, top, end);
      for (const matte of [step.matte, ...step.changes.map((c) => c.matte)]) this.e.prepareMatte(matte, top, end);
      inner.forEach(visit);
    };
    this.steps.forEach(visit);
  }

  /** The total over some rows, in planes that stay until the next block. */
  run(row: number, rows: number): Quad {
    const { e, node, kept } = this;
    const total = this.totals[0]!;
    if (kept) {
      const at = (row - kept.top) * e.width * 4;
      total.forEach((p, c) => e.heap.kernels.copyPlane(p, kept.planes[c]! + at, rows * e.width));
      for (const step of this.steps) this.lay(step, 0, row, rows);
      return total;
    }
    this.begin(0, rows);
    if (node.from !== undefined) {
      loadPicture(e, { kind: 'node', node: node.from, alpha: true }, row, rows, total);
      if (e.statistics) for (let y = 0; y < rows; y++) this.sums[0]![y] = e.light(total, y);
    } else if (node.startAlpha) {
      loadPlanes(e, node.startAlpha, row, rows, this.entry);
      e.heap.kernels.copyPlane(total[3], this.entry[0], rows * e.width);
    }
    for (const step of this.steps) this.lay(step, 0, row, rows);
    return total;
  }

  private begin(depth: number, rows: number): void {
    for (const p of this.totals[depth]!) this.e.heap.kernels.fillPlane(p, rows * this.e.width, 0);
    this.sums[depth]!.fill(0);
  }

  /** Lays a step on the total of a depth. */
  private lay({ step, changes, inner }: PreparedStep, depth: number, row: number, rows: number): void {
    const { e } = this;
    const { picture } = step;
    const n = rows * e.width;
    let source = this.entry;
    let loaded = { alpha: false, straight: false };
    if (picture.kind === 'subtotal') {
      this.begin(depth + 1, rows);
      for (const each of inner) this.lay(each, depth + 1, row, rows);
      source = this.totals[depth + 1]!;
      loaded = { alpha: picture.alpha, straight: false };
    } else {
      const kept = e.job.kept?.get(step);
      if (kept && row >= kept.top && row + rows <= kept.end) {
        const at = (row - kept.top) * e.width * 4;
        const [r, g, b, a] = kept.planes.map((p) => p + at);
        this.blend(step, this.totals[depth]!, [r!, g!, b!, a ?? this.entry[3]], kept.alpha, row, rows);
        if (e.statistics) this.note(step.entry, depth, row, rows);
        return;
      }
      loaded = loadPicture(e, picture, row, rows, source);
    }
    changes.run(source, { n, row, rows, ...loaded, counted: step.entry });
    this.blend(step, this.totals[depth]!, source, loaded.alpha, row, rows);
    if (e.statistics) this.note(step.entry, depth, row, rows);
  }

  /** T ← T + m · (op(T, S) − T). */
  private blend(step: PlanStep, total: Quad, source: Quad, alpha: boolean, row: number, rows: number): void {
    const { e, result } = this;
    const k = e.heap.kernels;
    const n = rows * e.width;
    const definition = findBlend(step.operation)!;
    const mark = e.heap.mark();
    let amount: number | undefined;
    if (step.matte) {
      amount = e.heap.allocatePlane(n);
      mattePlane(e, step.matte, { subject: source, alpha, row, rows, to: amount });
    }
    if (step.showsMatte) {
      for (let c = 0; c < 3; c++)
        if (amount === undefined) k.fillPlane(total[c]!, n, 1);
        else k.copyPlane(total[c]!, amount, n);
      return e.heap.release(mark);
    }
    // What has no alpha covers wholly.
    if (!alpha && definition.alpha === 'composes') k.fillPlane(source[3], n, 1);
    if (amount === undefined && step.mix === 1) definition.apply(k, total, source, n);
    else if (amount === undefined && definition.applyMixed) definition.applyMixed(k, total, source, n, step.mix);
    else {
      const planes = definition.alpha === 'composes' ? 4 : 3;
      for (let c = 0; c < 4; c++) k.copyPlane(result[c]!, total[c]!, n);
      definition.apply(k, result, source, n);
      if (amount === undefined) {
        amount = e.heap.allocatePlane(n);
        k.fillPlane(amount, n, 1);
      }
      for (let c = 0; c < planes; c++) k.mixByMatte(total[c]!, result[c]!, amount, n, step.mix);
    }
    e.heap.release(mark);
  }

  private note(entry: number, depth: number, row: number, rows: number): void {
    const { e } = this;
    const sums = this.sums[depth]!;
    for (let y = 0; y < rows; y++) {
      const sum = e.light(this.totals[depth]!, y);
      const place = e.place(row + y);
      if (place !== undefined) e.statistics!.entries[entry]![place] = sum - sums[y]!;
      sums[y] = sum;
    }
  }
}

function depthOf(steps: readonly PlanStep[]): number {
  return 1 + Math.max(0, ...steps.map((s) => (s.picture.kind === 'subtotal' ? depthOf(s.picture.steps) : 0)));
}
