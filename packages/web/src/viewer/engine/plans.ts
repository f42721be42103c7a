import type { Plan } from '@june-haze/core';

/**
 * A document's plans over frames: one where none differs, else one a frame. The same object for as long as the document and what it is
 * compiled with are the same, so that pictures of it can be told from others.
 */
export class Plans {
  private readonly compile: (frame: number) => Plan;
  private readonly differ: boolean;
  private readonly known = new Map<number, Plan>();

  constructor(compile: (frame: number) => Plan, differ: boolean) {
    this.compile = compile;
    this.differ = differ;
  }

  /** The plan of a frame. Throws a PlanError's sentence where the ledger cannot be evaluated. */
  at(frame: number): Plan {
    const of = this.differ ? frame : 0;
    const known = this.known.get(of);
    if (known) return known;
    const made = this.compile(frame);
    this.known.set(of, made);
    return made;
  }

  /** The same plans, each changed. */
  map(change: (plan: Plan) => Plan): Plans {
    return new Plans((frame) => change(this.at(frame)), this.differ);
  }
}
