import { prepareClipCount } from '../colour/lookClip.ts';
import { prepareSteps, type PreparedProcessor } from '../colour/prepare.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { Plane } from '../exr/read.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Operation } from './document.ts';
import { PlanError, type Plan, type PlanStep } from './plan.ts';
import { balanceRow, emptyStatistics, type RowStatistics } from './statistics.ts';

/** The planes of one plan input over the evaluated rows. Halves as Uint16Array bit patterns. */
export interface InputPlanes {
  readonly colour: readonly [Plane, Plane, Plane];
  readonly alpha?: Plane;
}

/** Four planes in the heap: red, green, blue, alpha. */
export type Quad = readonly [number, number, number, number];

export interface Evaluation {
  readonly width: number;
  readonly rows: number;
  /** In the plan's order of inputs. */
  readonly inputs: readonly InputPlanes[];
  /** Rows per band. Results do not depend on it, to the bit. */
  readonly bandRows?: number;
  /** Shares and balance cost about as much as the sum itself; leave them out where nobody looks. */
  readonly statistics?: boolean;
  /** Called with each finished band, its planes still in the heap: pixels premultiplied, scene-linear, working space. */
  onBand(firstRow: number, rows: number, total: Quad, heap: Heap): void;
}

/**
 * Evaluates a plan over some whole rows, band by band; memory is bounded by the band, not by the number of passes.
 * All arithmetic is float32 in the kernels' order, so that any split gives the same bits. Throws a PlanError for planes of another size.
 */
export function evaluate(plan: Plan, heap: Heap, job: Evaluation): RowStatistics | undefined {
  for (const { colour, alpha } of job.inputs)
    if ([...colour, alpha].some((p) => p && p.length !== job.width * job.rows))
      throw new PlanError('A pass has another size than the picture: passes of one ledger must have one size.');
  const mark = heap.mark();
  const bandRows = Math.max(1, Math.min(job.rows, job.bandRows ?? Math.ceil(65536 / job.width)));
  const band = new BandRunner(plan, heap, job, bandRows * job.width);
  const statistics = job.statistics ? emptyStatistics(plan.entryIds.length, job.rows) : undefined;
  for (let row = 0; row < job.rows; row += bandRows) {
    const rows = Math.min(bandRows, job.rows - row);
    const total = band.run(row, rows, statistics);
    job.onBand(row, rows, total, heap);
  }
  heap.release(mark);
  return statistics;
}

/** The buffers and prepared processors of one evaluation. */
class BandRunner {
  private readonly plan: Plan;
  private readonly heap: Heap;
  private readonly job: Evaluation;
  private readonly totals: Quad[];
  private readonly entry: Quad;
  /** Luminance of each level's running total by row of the band: an entry adds what it changes this by. */
  private readonly sums: Float64Array[];
  private readonly half: number;
  private readonly colour: PreparedProcessor[];
  /** Whether a step's colour is more than a multiplication, so that alpha matters to it. */
  private readonly bends: boolean[];
  private readonly balance: PreparedProcessor | undefined;
  private readonly balanceBends: boolean;
  /** Counters of what tables and cubes cut off, and planes to count in; only where statistics are wanted. */
  private readonly cuts: (ReturnType<typeof prepareClipCount> | undefined)[];
  private readonly scratch: readonly [number, number, number] | undefined;

  constructor(plan: Plan, heap: Heap, job: Evaluation, samples: number) {
    this.plan = plan;
    this.heap = heap;
    this.job = job;
    const quad = (): Quad => [0, 1, 2, 3].map(() => heap.allocatePlane(samples)) as unknown as Quad;
    let depth = 1;
    let deepest = 1;
    for (const s of plan.steps) {
      depth += s.kind === 'open' ? 1 : s.kind === 'close' ? -1 : 0;
      deepest = Math.max(deepest, depth);
    }
    this.totals = Array.from({ length: deepest }, quad);
    this.entry = quad();
    this.sums = this.totals.map(() => new Float64Array(Math.ceil(samples / job.width)));
    this.half = heap.allocate(samples * 2);
    const stepsOf = (s: PlanStep): readonly ColourStep[] => (s.kind === 'open' ? [] : s.colour);
    this.colour = plan.steps.map((s) => prepareSteps(stepsOf(s), heap));
    this.bends = plan.steps.map((s) => bending(stepsOf(s)));
    this.cuts = plan.steps.map((s) => (job.statistics ? prepareClipCount(stepsOf(s), heap) : undefined));
    if (this.cuts.some((c) => c)) this.scratch = quad().slice(0, 3) as unknown as [number, number, number];
    this.balance = plan.balance && prepareSteps(plan.balance.colour, heap);
    this.balanceBends = bending(plan.balance?.colour ?? []);
  }

  run(row: number, rows: number, statistics: RowStatistics | undefined): Quad {
    const n = rows * this.job.width;
    let level = 0;
    this.clear(this.totals[0]!, n);
    if (this.plan.startAlpha !== undefined)
      this.loadPlane(this.job.inputs[this.plan.startAlpha]!.colour[0], row * this.job.width, this.totals[0]![3], n);
    this.sums[0]!.fill(0);
    this.plan.steps.forEach((step, index) => {
      if (step.kind === 'open') {
        this.clear(this.totals[++level]!, n);
        this.sums[level]!.fill(0);
        return;
      }
      let source: Quad;
      let alpha = true;
      if (step.kind === 'close') {
        source = this.totals[level]!;
        level--;
        alpha = step.alpha;
        this.convert(index, source, n, alpha, false, statistics);
      } else if (step.kind === 'fill') {
        source = this.entry;
        step.value.forEach((v, c) => this.heap.kernels.fillPlane(source[c]!, n, v));
        this.convert(index, source, n, true, true, statistics);
      } else {
        source = this.entry;
        alpha = this.loadInput(step.input, row, n);
        this.convert(index, source, n, alpha, this.plan.inputs[step.input]!.straight ?? false, statistics);
      }
      this.apply(step.operation, step.mix, this.totals[level]!, source, alpha, n, step.entry, row, rows, statistics);
    });
    if (statistics) this.finishStatistics(row, rows, statistics);
    if (!this.plan.hasAlpha) this.heap.kernels.fillPlane(this.totals[0]![3], n, 1);
    return this.totals[0]!;
  }

  private clear(quad: Quad, n: number): void {
    for (const p of quad) this.heap.kernels.fillPlane(p, n, 0);
  }

  /** An entry's colour into the working space and through its adjustments. */
  private convert(
    index: number,
    q: Quad,
    n: number,
    alpha: boolean,
    isStraight: boolean,
    statistics: RowStatistics | undefined,
  ): void {
    changeColour(this.heap, q, n, { alpha, isStraight, bends: this.bends[index]! }, () => {
      if (statistics) this.countCuts(index, q, n, statistics);
      this.colour[index]!(q[0], q[1], q[2], n);
    });
  }

  /** Counts what a table or cube among a step's colour cuts off, on copies. */
  private countCuts(index: number, q: Quad, n: number, statistics: RowStatistics): void {
    const count = this.cuts[index];
    const step = this.plan.steps[index]!;
    if (!count || !this.scratch || step.kind === 'open') return;
    const { heap } = this;
    this.scratch.forEach((to, c) => heap.floats(to, n).set(heap.floats(q[c]!, n)));
    statistics.cutOff[step.entry]! += count(...this.scratch, n);
    statistics.tabled[step.entry]! += n;
  }

  /** Brings an input's band into the entry planes; returns whether it has alpha. */
  private loadInput(index: number, row: number, n: number): boolean {
    const input = this.job.inputs[index]!;
    const from = row * this.job.width;
    input.colour.forEach((plane, c) => this.loadPlane(plane, from, this.entry[c]!, n));
    if (input.alpha) this.loadPlane(input.alpha, from, this.entry[3], n);
    else this.heap.kernels.fillPlane(this.entry[3], n, 0);
    return input.alpha !== undefined;
  }

  private loadPlane(plane: Plane, from: number, pointer: number, n: number): void {
    const part = plane.subarray(from, from + n);
    if (part instanceof Uint16Array) {
      this.heap.halves(this.half, n).set(part);
      this.heap.kernels.halfToFloat(this.half, pointer, n);
    } else this.heap.floats(pointer, n).set(part);
  }

  private apply(
    operation: Operation,
    mix: number,
    total: Quad,
    source: Quad,
    alpha: boolean,
    n: number,
    entry: number,
    row: number,
    rows: number,
    statistics: RowStatistics | undefined,
  ): void {
    const k = this.heap.kernels;
    if (operation === 'over') {
      // An entry without alpha covers everything: it is taken as opaque.
      if (!alpha) k.fillPlane(source[3], n, 1);
      for (let c = 0; c < 3; c++) k.coverPremultiplied(total[c]!, source[c]!, source[3], n, mix);
      k.coverPremultiplied(total[3], source[3], source[3], n, mix);
    } else if (operation === 'multiply') {
      for (let c = 0; c < 3; c++) k.multiplyMixed(total[c]!, source[c]!, n, mix);
    } else {
      const sign = operation === 'plus' ? mix : -mix;
      for (let c = 0; c < 3; c++) k.addScaled(total[c]!, source[c]!, n, sign);
    }
    if (!statistics) return;
    // The entry's contribution: total after minus total before.
    const [wr, wg, wb] = this.plan.luminance;
    const sums = this.sums[this.totals.indexOf(total)]!;
    for (let y = 0; y < rows; y++) {
      const at = y * this.job.width * 4;
      const sum = k.luminanceSum(total[0] + at, total[1] + at, total[2] + at, this.job.width, wr, wg, wb);
      statistics.entries[entry]![row + y] = sum - sums[y]!;
      sums[y] = sum;
    }
  }

  private finishStatistics(row: number, rows: number, statistics: RowStatistics): void {
    const total = this.totals[0]!;
    const { width } = this.job;
    for (let y = 0; y < rows; y++) statistics.total[row + y] = this.sums[0]![y]!;
    if (!this.plan.balance || !this.balance) return;
    const n = rows * width;
    const { input } = this.plan.balance;
    const alpha = this.loadInput(input, row, n);
    const isStraight = this.plan.inputs[input]!.straight ?? false;
    changeColour(this.heap, this.entry, n, { alpha, isStraight, bends: this.balanceBends }, () =>
      this.balance!(this.entry[0], this.entry[1], this.entry[2], n),
    );
    const views = (q: Quad) => [0, 1, 2].map((c) => this.heap.floats(q[c]!, n));
    balanceRow(views(total), views(this.entry), width, row, rows, this.plan, statistics);
  }
}

/** Whether steps are more than a multiplication, so that alpha matters to them. */
export const bending = (steps: readonly ColourStep[]) =>
  steps.some((c) => c.kind !== 'matrix' || c.offset !== undefined);

/**
 * Changes a quad's colour with its alpha heeded; the result is premultiplied. Changes that bend work on straight colour: divided by alpha
 * before, unless it is straight already, and multiplied after; where alpha is 0 there is no straight colour, and it stays as it was.
 * Colour that has no alpha (`alpha` false) is changed as it is.
 */
export function changeColour(
  heap: Heap,
  [r, g, b, a]: Quad,
  n: number,
  { alpha, isStraight, bends }: { readonly alpha: boolean; readonly isStraight: boolean; readonly bends: boolean },
  change: () => void,
): void {
  const k = heap.kernels;
  const planes = [r, g, b];
  const mark = heap.mark();
  const before = alpha && bends && !isStraight ? planes.map((p) => copyPlane(heap, p, n)) : undefined;
  if (before) for (const p of planes) k.dividePlanes(p, a, n);
  change();
  if (before) planes.forEach((p, c) => k.restorePlanes(p, a, before[c]!, n));
  else if (alpha && isStraight) for (const p of planes) k.multiplyPlanes(p, a, n);
  heap.release(mark);
}

function copyPlane(heap: Heap, plane: number, n: number): number {
  const copy = heap.allocatePlane(n);
  heap.floats(copy, n).set(heap.floats(plane, n));
  return copy;
}
