import type { Quad } from '../operations/blend.ts';
import { findMatte } from '../operations/registry.ts';
import type { Surroundings } from './evaluation.ts';
import { loadPlanes } from './load.ts';
import type { PlanMatte } from './plan.ts';

/** Samples that a matte is wanted for, and what it is applied to. */
export interface MatteAsked {
  /** Premultiplied, in the working space. */
  readonly subject: Quad;
  readonly alpha: boolean;
  readonly row: number;
  readonly rows: number;
  readonly to: number;
}

/** Writes a matte's values over some rows; those beyond 0 … 1 are limited where it is used. */
export function mattePlane(e: Surroundings, matte: PlanMatte, asked: MatteAsked): void {
  const { heap } = e;
  const { subject, alpha, row, rows, to } = asked;
  const n = rows * e.width;
  const mark = heap.mark();
  const planes = matte.planes.map((p) => {
    const quad = e.quad(n);
    loadPlanes(e, p, row, rows, quad);
    return quad;
  });
  const other = matte.other ? heap.allocatePlane(n) : 0;
  if (matte.other) mattePlane(e, matte.other, { ...asked, to: other });
  findMatte(matte.kind)!.run({
    heap,
    n,
    values: matte.values as never,
    to,
    planes,
    other,
    subject,
    subjectHasAlpha: alpha,
    luminance: e.plan.luminance,
  });
  heap.release(mark);
}
