import type { PlaneKind, StepKind } from '../stepKind.ts';
import type { ColourStep } from '../steps.ts';
import { aces2, acesGlowAndRed, surround, tone } from './aces.ts';
import { channelsOf } from './channels.ts';
import { clamp } from './clamp.ts';
import { cube } from './cube.ts';
import { decodeLog, encodeLog } from './logCurve.ts';
import { matrix } from './matrix.ts';
import { plain, plainPlane } from './plain.ts';
import { power } from './power.ts';
import { decodePq, encodePq } from './pq.ts';
import { decode, encode } from './straightAndPower.ts';
import { table } from './table.ts';

/** Every kind of step over one plane. */
const planeKinds: readonly PlaneKind[] = [
  encode,
  decode,
  power,
  encodeLog,
  decodeLog,
  encodePq,
  decodePq,
  clamp,
  table,
  plainPlane,
];
const planes: ReadonlyMap<string, PlaneKind> = new Map(planeKinds.map((k) => [k.kind, k]));

/** Every kind of colour step. */
export const stepKinds: readonly StepKind[] = [
  matrix,
  ...planeKinds,
  channelsOf((step) => planes.get(step.kind)!),
  cube,
  acesGlowAndRed,
  aces2,
  tone,
  surround,
  plain,
];
const known: ReadonlyMap<string, StepKind> = new Map(stepKinds.map((k) => [k.kind, k]));

/** What is known of a step's kind. */
export const kindOf = (step: ColourStep): StepKind => known.get(step.kind)!;
