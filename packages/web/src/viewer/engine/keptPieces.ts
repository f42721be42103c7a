import {
  keepPicture,
  keepTotal,
  needsOf,
  type Evaluation,
  type FindCut,
  type Heap,
  type KeptPicture,
  type KeptTotal,
  type Plan,
  type PlanStep,
  type PreparedProcessor,
} from '@june-haze/core';
import { keptLimit } from './keptLimit.ts';
import type { PictureJob } from './messages.ts';

/** Room at the bottom of the heap for another view of the same kind. */
const roomForViews = 1 << 20;
/** What preparing a view takes beyond its end while it runs, at most: a curve's table. */
const preparingTakes = 256 << 10;
/** Rows around a block that a finish looks at are kept in steps of so many, so that a size that is dragged finds them. */
const aroundStep = 64;
/** Pictures so many back say what stands still while something moves. */
const remembered = 2;

/** A view whose constants lie in the heap, what finds the pixels that its look cuts off, where it has one, and those that warnings ask for. */
export interface PreparedView {
  readonly run: PreparedProcessor;
  readonly findClipped: FindCut | undefined;
  readonly warnings: PreparedWarnings | undefined;
}

/** What finds pixels that the first table of a view or the display itself cuts off. */
export interface PreparedWarnings {
  readonly findCut: FindCut | undefined;
  readonly beforeDisplay: { readonly run: PreparedProcessor; readonly ends: readonly [number, number] } | undefined;
}

type Place = Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'>;

/**
 * What a picture worker keeps from one picture to the next, at the bottom of its heap: the view that was prepared last; of each block, the total
 * above the first step that has changed, and the converted pictures of the steps below it. A picture then costs what moves, and what lies below.
 */
export class KeptPieces {
  private readonly heap: Heap;
  private view: { readonly key: string; readonly made: PreparedView; readonly end: number } | undefined;
  private readonly totals = new Map<string, KeptTotal>();
  private readonly pictures = new Map<string, KeptPicture>();
  private before: ReadonlySet<number>[] = [];
  private still: ReadonlySet<number> = new Set();
  private begun = 0;

  constructor(heap: Heap) {
    this.heap = heap;
  }

  /** What is kept, in bytes. */
  get bytes(): number {
    return this.heap.mark();
  }

  /** A view, ready to run; it stays at the bottom of the heap while it is the one that is asked for. */
  prepareView(key: string, make: (heap: Heap) => PreparedView): PreparedView {
    if (this.view?.key === key) return this.view.made;
    const { heap } = this;
    const kept = heap.mark();
    heap.clear();
    let made = this.making(make);
    if (this.view && heap.mark() + preparingTakes <= this.view.end) {
      // An exposure of the viewing leaves what is kept where it is.
      heap.release(kept);
      this.view = { key, made, end: this.view.end };
      return made;
    }
    // It may have run over what is kept.
    this.forget();
    heap.clear();
    made = this.making(make);
    heap.allocate(roomForViews);
    this.view = { key, made, end: heap.mark() };
    return made;
  }

  /** A view that cannot be made may have been written over the one before it: nothing is kept any more. */
  private making(make: (heap: Heap) => PreparedView): PreparedView {
    try {
      return make(this.heap);
    } catch (error) {
      this.reset();
      throw error;
    }
  }

  /** Begins anew, with nothing kept. */
  reset(): void {
    this.forget();
    this.view = undefined;
    this.heap.clear();
  }

  /** A new picture: what was also in the last ones is worth keeping. */
  begin({ number, keys }: PictureJob): void {
    if (number === this.begun) return;
    this.begun = number;
    const own = new Set(keys.flatMap((k) => [...k.totals, ...k.pictures.filter((p) => p !== undefined)]));
    this.still = new Set([...own].filter((id) => this.before.some((b) => b.has(id))));
    this.before = [own, ...this.before].slice(0, remembered);
    if (this.heap.mark() < keptLimit || !this.view) return;
    // Full: begun anew when most of it is nobody's any more.
    const all = [...this.totals.keys(), ...this.pictures.keys()];
    const used = all.filter((k) => own.has(Number(k.slice(0, k.indexOf(' '))))).length;
    if (used * 2 > all.length) return;
    this.forget();
    this.heap.release(this.view.end);
  }

  /** What is kept of some rows of a picture; what is worth it and not there yet is made. Nothing but kept things may lie in the heap. */
  of(job: PictureJob, place: Place, top: number, end: number): Pick<Evaluation, 'kept' | 'keptTotals'> {
    const { plan, height, level } = job;
    const kept = new Map<PlanStep, KeptPicture>();
    const keptTotals = new Map<number, KeptTotal>();
    const { nodes } = needsOf(plan, { top, end, height, level });
    plan.nodes.forEach((node, i) => {
      const asked = nodes[i];
      if (node.kind !== 'run' || !asked) return;
      const { totals, pictures } = job.keys[i]!;
      const steps = lastIndex(totals, (id) => this.still.has(id));
      if (steps > 0) {
        const around = i === plan.nodes.length - 1 ? asked : widened(asked, top, end, height);
        const found = this.total(plan, { ...place, kept, keptTotals }, totals[steps]!, i, steps, around);
        if (found) keptTotals.set(i, found);
      }
      const first = keptTotals.has(i) ? steps : 0;
      node.steps.slice(first).forEach((step, k) => {
        const id = pictures[first + k];
        const found = id === undefined ? undefined : this.picture(plan, place, id, step, asked);
        if (found) kept.set(step, found);
      });
    });
    return { kept, keptTotals };
  }

  private total(
    plan: Plan,
    place: Place,
    id: number,
    node: number,
    steps: number,
    [top, end]: readonly [number, number],
  ) {
    const key = `${id} ${top} ${end}`;
    const known = this.totals.get(key);
    if (known || this.heap.mark() >= keptLimit) return known;
    const made = keepTotal(plan, this.heap, place, { node, steps, top, end });
    this.totals.set(key, made);
    return made;
  }

  private picture(plan: Plan, place: Place, id: number, step: PlanStep, [top, end]: readonly [number, number]) {
    const key = `${id} ${top} ${end}`;
    const known = this.pictures.get(key);
    if (known || !this.still.has(id) || this.heap.mark() >= keptLimit) return known;
    const made = keepPicture(plan, this.heap, { ...place, firstRow: top, rows: end - top }, step);
    if (made) this.pictures.set(key, made);
    return made;
  }

  private forget(): void {
    this.totals.clear();
    this.pictures.clear();
  }
}

function lastIndex(ids: readonly number[], is: (id: number) => boolean): number {
  for (let i = ids.length - 1; i >= 0; i--) if (is(ids[i]!)) return i;
  return -1;
}

/** Rows that a finish looks at, with those that a somewhat larger size would ask for. */
function widened([from, to]: readonly [number, number], top: number, end: number, height: number): [number, number] {
  const around = Math.ceil(Math.max(top - from, to - end) / aroundStep) * aroundStep;
  return [Math.max(0, Math.min(from, top - around)), Math.min(height, Math.max(to, end + around))];
}
