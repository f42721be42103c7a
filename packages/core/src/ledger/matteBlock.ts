import type { Quad } from '../operations/blend.ts';
import { findMatte } from '../operations/registry.ts';
import type { Surroundings } from './evaluation.ts';
import { loadPlanes } from './load.ts';
import { matteRows, type PlanMatte } from './plan.ts';

/** Samples that a matte is wanted for, and what it is applied to. */
export interface MatteAsked {
  /** Premultiplied, in the working space. */
  readonly subject: Quad;
  readonly alpha: boolean;
  readonly row: number;
  readonly rows: number;
  readonly to: number;
}

/** Writes a matte's values over some rows; those beyond 0 … 1 are limited where it is used. What was made of it is taken as it is. */
export function mattePlane(e: Surroundings, matte: PlanMatte, asked: MatteAsked): void {
  const { row, rows, to } = asked;
  const made = e.madeMatte(matte, row, row + rows);
  if (made === undefined) makeMatte(e, matte, asked);
  else e.heap.kernels.copyPlane(to, made, rows * e.width);
}

/** The same, made anew; the mattes that it is made of are taken as they are where they were made. */
export function makeMatte(e: Surroundings, matte: PlanMatte, asked: MatteAsked): void {
  const { heap, width, height, level } = e;
  const { subject, alpha, row, rows, to } = asked;
  const definition = findMatte(matte.kind)!;
  const [fromTop, fromEnd] = matteRows(matte, row, row + rows, height, level);
  const around = (fromEnd - fromTop) * width;
  const mark = heap.mark();
  const planes = matte.planes.map((p) => {
    const quad = e.quad(around);
    loadPlanes(e, p, fromTop, fromEnd - fromTop, quad);
    return quad;
  });
  const others = (matte.others ?? []).map((other) => {
    const plane = heap.allocatePlane(around);
    mattePlane(e, other, { ...asked, row: fromTop, rows: fromEnd - fromTop, to: plane });
    heap.kernels.rampPlane(plane, around, 0, 1, 0);
    return plane;
  });
  definition.run({
    heap,
    n: rows * width,
    values: matte.values as never,
    to,
    level,
    width,
    height,
    top: row,
    end: row + rows,
    planes,
    others,
    fromTop,
    fromEnd,
    subject,
    subjectHasAlpha: alpha,
    luminance: e.plan.luminance,
  });
  heap.release(mark);
}
