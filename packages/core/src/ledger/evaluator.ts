import type { Heap } from '../kernel/heap.ts';
import type { Quad } from '../operations/blend.ts';
import { findFinish } from '../operations/registry.ts';
import type { Evaluation, KeptTotal, Made, Surroundings } from './evaluation.ts';
import { Blocks } from './blocks.ts';
import { loadPicture, loadPlanes } from './load.ts';
import { makeMatte, mattePlane } from './matteBlock.ts';
import { isOfSubject } from './mattes.ts';
import { placeRows } from './place.ts';
import { matteRows, type FinishNode, type Plan, type PlanMatte, type RunNode } from './plan.ts';
import { prepareChanges, type PreparedChanges } from './preparedChanges.ts';
import { balanceRow, type RowStatistics } from './statistics.ts';

/** Samples that fit the processor's cache with all buffers of a run. */
const blockSamples = 16384;

/** What a matte that asks for no subject is given as one. */
const noSubject: Quad = [0, 0, 0, 0];

/** One evaluation: makes nodes for the rows that are asked of them, and the total block by block. Everything it places in the heap is its caller's to release. */
export class Evaluator implements Surroundings {
  readonly plan: Plan;
  readonly heap: Heap;
  readonly job: Evaluation;
  readonly statistics: RowStatistics | undefined;
  readonly width: number;
  readonly height: number;
  readonly level: number;
  /** The rows asked for. */
  readonly top: number;
  readonly end: number;
  private readonly made = new Map<number, Made>();
  private readonly mattes = new Map<
    PlanMatte,
    { readonly top: number; readonly end: number; readonly plane: number }
  >();
  private readonly runs = new Map<string, Blocks>();

  constructor(plan: Plan, heap: Heap, job: Evaluation, statistics?: RowStatistics) {
    this.plan = plan;
    this.heap = heap;
    this.job = job;
    this.statistics = statistics;
    this.width = job.width;
    this.top = job.firstRow ?? 0;
    this.end = this.top + job.rows;
    this.height = job.height ?? this.end;
    this.level = job.level ?? 0;
  }

  /** The total, block by block, to the job's `onBand`. */
  total(): void {
    const { job, heap, plan, statistics } = this;
    const against = statistics && plan.balance;
    const balance = against && prepareChanges(against.changes, this);
    if (against?.picture.kind === 'node') this.rows(against.picture.node, this.top, this.end);
    this.blocks(plan.nodes.length - 1, this.top, this.end, (quad, row, rows) => {
      if (statistics) this.noteTotal(quad, row, rows, balance, statistics);
      if (!plan.hasAlpha) heap.kernels.fillPlane(quad[3], rows * this.width, 1);
      job.onBand(row - this.top, rows, quad, heap);
    });
  }

  /** Rows of a node: made once, and whole. */
  rows(node: number, top: number, end: number): Made {
    const known = this.made.get(node);
    if (known && known.top <= top && known.end >= end) return known;
    const found = this.plan.nodes[node]!;
    const quad = this.quad((end - top) * this.width);
    if (found.kind === 'place') placeRows(this, found, top, end, quad);
    else if (found.kind === 'finish') this.finish(found, node, top, end, quad);
    else
      this.blocks(node, top, end, (block, row, rows) => {
        const at = (row - top) * this.width * 4;
        block.forEach((p, c) => this.heap.kernels.copyPlane(quad[c]! + at, p, rows * this.width));
      });
    const made = { top, end, quad };
    this.made.set(node, made);
    return made;
  }

  prepareMatte(matte: PlanMatte | undefined, top: number, end: number): void {
    if (!matte) return;
    const [from, to] = matteRows(matte, top, end, this.height, this.level);
    for (const p of matte.planes) if (p.kind === 'node') this.rows(p.node, from, to);
    for (const other of matte.others ?? []) this.prepareMatte(other, from, to);
    if (isOfSubject(matte) || this.madeMatte(matte, top, end) !== undefined) return;
    const plane = this.heap.allocatePlane((end - top) * this.width);
    makeMatte(this, matte, { subject: noSubject, alpha: false, row: top, rows: end - top, to: plane });
    this.mattes.set(matte, { top, end, plane });
  }

  madeMatte(matte: PlanMatte, top: number, end: number): number | undefined {
    const made = this.mattes.get(matte);
    return made && made.top <= top && made.end >= end ? made.plane + (top - made.top) * this.width * 4 : undefined;
  }

  /** A node's rows block by block, in planes that may be written over. */
  blocks(node: number, top: number, end: number, onBlock: (quad: Quad, row: number, rows: number) => void): void {
    const each = Math.max(1, this.job.bandRows ?? Math.floor(blockSamples / this.width));
    const runner = this.runner(node, each, this.keptTotal(node, top, end));
    runner.prepare(top, end);
    for (let row = top; row < end; row += each) {
      const rows = Math.min(each, end - row);
      onBlock(runner.run(row, rows), row, rows);
    }
  }

  /** Luminance of one row of a block. */
  light([r, g, b]: Quad, y: number): number {
    const at = y * this.width * 4;
    const [wr, wg, wb] = this.plan.luminance;
    return this.heap.kernels.luminanceSum(r + at, g + at, b + at, this.width, wr, wg, wb);
  }

  /** Where a row's statistics go; undefined for rows that were made only for their neighbours. */
  place(row: number): number | undefined {
    return row >= this.top && row < this.end ? row - this.top : undefined;
  }

  quad(samples: number): Quad {
    return [0, 1, 2, 3].map(() => this.heap.allocatePlane(samples)) as unknown as Quad;
  }

  /** A total that is kept of a node and covers some rows. */
  private keptTotal(node: number, top: number, end: number): KeptTotal | undefined {
    const kept = this.statistics ? undefined : this.job.keptTotals?.get(node);
    return kept && kept.top <= top && kept.end >= end ? kept : undefined;
  }

  private runner(node: number, rows: number, kept: KeptTotal | undefined): Blocks {
    const key = `${node} ${kept !== undefined}`;
    const known = this.runs.get(key);
    if (known) return known;
    const found = this.plan.nodes[node]!;
    // What is no run is handed out as one that adds nothing.
    const run: RunNode = found.kind === 'run' ? found : { kind: 'run', from: node, steps: [] };
    const made = new Blocks(this, run, rows, kept);
    this.runs.set(key, made);
    return made;
  }

  private finish(node: FinishNode, number: number, top: number, end: number, to: Quad): void {
    const definition = findFinish(node.finish)!;
    const { heap, width, height, level } = this;
    const n = (end - top) * width;
    const reach = definition.reach(node.values as never, level);
    this.prepareMatte(node.matte, top, end);
    const [fromTop, fromEnd] = [Math.max(0, top - reach), Math.min(height, end + reach)];
    for (const p of node.planes ?? []) if (p.kind === 'node') this.rows(p.node, fromTop, fromEnd);
    const from = this.rows(node.from, fromTop, fromEnd);
    const beforePlanes = heap.mark();
    const planes = (node.planes ?? []).map((p) => {
      const quad = this.quad((fromEnd - fromTop) * width);
      loadPlanes(this, p, fromTop, fromEnd - fromTop, quad);
      return quad;
    });
    definition.run({
      heap,
      values: node.values as never,
      level,
      width,
      height,
      from: from.quad,
      fromTop: from.top,
      fromEnd: from.end,
      hasAlpha: node.alpha,
      planes,
      planesTop: fromTop,
      planesEnd: fromEnd,
      frame: node.frame ?? 0,
      to,
      top,
      end,
      luminance: this.plan.luminance,
      whole: this.job.whole?.get(number),
    });
    heap.release(beforePlanes);
    const mark = heap.mark();
    const before = from.quad.map((p) => p + (top - from.top) * width * 4) as unknown as Quad;
    if (node.matte || node.mix !== 1) {
      // What was there, moved towards the finished by mix and matte.
      const mixed = this.quad(n);
      const amount = heap.allocatePlane(n);
      mixed.forEach((p, c) => heap.kernels.copyPlane(p, before[c]!, n));
      if (node.matte)
        mattePlane(this, node.matte, { subject: before, alpha: node.alpha, row: top, rows: end - top, to: amount });
      else heap.kernels.fillPlane(amount, n, 1);
      mixed.forEach((p, c) => {
        heap.kernels.mixByMatte(p, to[c]!, amount, n, node.mix);
        heap.kernels.copyPlane(to[c]!, p, n);
      });
    }
    heap.release(mark);
    if (this.statistics) this.noteFinish(node, before, to, top, end, this.statistics);
  }

  private noteFinish(node: FinishNode, before: Quad, to: Quad, top: number, end: number, s: RowStatistics): void {
    for (let row = top; row < end; row++) {
      const place = this.place(row);
      if (place !== undefined)
        s.entries[node.entry]![place] = this.light(to, row - top) - this.light(before, row - top);
    }
  }

  private noteTotal(
    quad: Quad,
    row: number,
    rows: number,
    changes: PreparedChanges | undefined,
    statistics: RowStatistics,
  ): void {
    const { heap, plan, width } = this;
    for (let y = 0; y < rows; y++) statistics.total[row + y - this.top] = this.light(quad, y);
    if (!plan.balance || !changes) return;
    const n = rows * width;
    const mark = heap.mark();
    const beauty = this.quad(n);
    const { alpha, straight } = loadPicture(this, plan.balance.picture, row, rows, beauty);
    changes.run(beauty, { n, row, rows, alpha, straight });
    const views = (q: Quad) => [0, 1, 2].map((c) => heap.floats(q[c]!, n));
    balanceRow(views(quad), views(beauty), width, row - this.top, rows, plan, statistics);
    heap.release(mark);
  }
}
