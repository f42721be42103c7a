import type { Heap } from '../kernel/heap.ts';
import { renderingBlock } from '../transform/aces2/block.ts';
import { rendering } from '../transform/aces2/parameters.ts';
import { pixelFunction, planeFunction, type Pixel } from '../transform/plain.ts';
import { curveTable, prepareTable, type Below } from './curveTable.ts';
import { splineBlock } from './acesTonescale.ts';
import type { ColourStep, PlaneStep } from './steps.ts';

/** A processor whose constants lie in a heap, ready to run over planes of that heap. */
export type PreparedProcessor = (r: number, g: number, b: number, n: number) => void;
type PreparedPlane = (plane: number, n: number) => void;

/** Places a processor's constants in the heap (they live until the caller releases its mark). */
export function prepareSteps(steps: readonly ColourStep[], heap: Heap): PreparedProcessor {
  const runs = steps.map((step) => prepareStep(step, heap));
  return (r, g, b, n) => {
    for (const run of runs) run(r, g, b, n);
  };
}

function prepareStep(step: ColourStep, heap: Heap): PreparedProcessor {
  const k = heap.kernels;
  switch (step.kind) {
    case 'matrix':
      return prepareMatrix(step, heap);
    case 'cube':
      return prepareCube(step, heap);
    case 'channels': {
      const [first, second, third] = step.each.map((s) => preparePlane(s, heap)) as [
        PreparedPlane,
        PreparedPlane,
        PreparedPlane,
      ];
      return (r, g, b, n) => {
        first(r, n);
        second(g, n);
        third(b, n);
      };
    }
    case 'acesGlowAndRed':
      return (r, g, b, n) => k.acesGlowAndRed(r, g, b, n);
    case 'aces2': {
      const block = heap.placeFloats(renderingBlock(rendering(step.peak, step.limiting)));
      return (r, g, b, n) => k.aces2Forward(r, g, b, n, block);
    }
    case 'tone': {
      const [first, second] = step.splines.map((s) => heap.placeFloats(splineBlock(s))) as [number, number];
      const exact: PreparedPlane = (p, n) => k.toneSpline(p, n, first, second);
      // Below its first knot a tone scale is even: what is darker than any picture is one value.
      return perPlane(tabled(step, [-32, 21], { held: darkest(exact, heap) }, heap, exact));
    }
    case 'surround': {
      const power = step.exponent - 1;
      const key = JSON.stringify(['surround', power]);
      const table = curveTable(key, [-32, 4], { held: 0 }, heap, (p, n) => k.powPlane(p, n, power));
      const { first, shift, low, high, entries } = table;
      const [block, at] = [heap.placeFloats([...step.weights, power, low, high]), heap.placeFloats(entries)];
      return (r, g, b, n) => k.surround(r, g, b, n, block, at, first, shift);
    }
    case 'plain':
      return preparePixels(pixelFunction(step.recipe), heap);
    default:
      return perPlane(preparePlane(step, heap));
  }
}

function prepareMatrix(step: Extract<ColourStep, { kind: 'matrix' }>, heap: Heap): PreparedProcessor {
  const k = heap.kernels;
  const m = step.matrix;
  const diagonal = [1, 2, 3, 5, 6, 7].every((i) => m[i] === 0);
  const at = heap.placeFloats(m);
  const turn: PreparedProcessor = diagonal
    ? (r, g, b, n) => k.scale3(r, g, b, n, m[0], m[4], m[8])
    : (r, g, b, n) => k.matrix3(r, g, b, n, at);
  const { offset } = step;
  if (!offset) return turn;
  return (r, g, b, n) => {
    turn(r, g, b, n);
    k.offsetPlane(r, n, offset[0]);
    k.offsetPlane(g, n, offset[1]);
    k.offsetPlane(b, n, offset[2]);
  };
}

/** Lattice points lie in the heap as four floats each, so that one load brings a whole colour. */
function prepareCube(step: Extract<ColourStep, { kind: 'cube' }>, heap: Heap): PreparedProcessor {
  const points = step.size ** 3;
  const at = heap.allocate(points * 16);
  const lattice = heap.floats(at, points * 4);
  for (let i = 0; i < points; i++) {
    lattice[i * 4] = step.values[i * 3]!;
    lattice[i * 4 + 1] = step.values[i * 3 + 1]!;
    lattice[i * 4 + 2] = step.values[i * 3 + 2]!;
    lattice[i * 4 + 3] = 0;
  }
  const k = heap.kernels;
  return step.interpolation === 'tetrahedral'
    ? (r, g, b, n) => k.cubeTetrahedral(r, g, b, n, at, step.size)
    : (r, g, b, n) => k.cubeTrilinear(r, g, b, n, at, step.size);
}

function preparePixels(change: Pixel, heap: Heap): PreparedProcessor {
  const pixel: [number, number, number] = [0, 0, 0];
  return (rp, gp, bp, n) => {
    const [r, g, b] = [heap.floats(rp, n), heap.floats(gp, n), heap.floats(bp, n)];
    for (let i = 0; i < n; i++) {
      pixel[0] = r[i]!;
      pixel[1] = g[i]!;
      pixel[2] = b[i]!;
      change(pixel);
      r[i] = pixel[0];
      g[i] = pixel[1];
      b[i] = pixel[2];
    }
  };
}

function preparePlane(step: PlaneStep, heap: Heap): PreparedPlane {
  const k = heap.kernels;
  switch (step.kind) {
    case 'encode': {
      const { cutLinear, slope, scale, power, offset } = step.curve;
      if (step.mirrored)
        return mirrored((p, n) => k.encodeCurve(p, n, cutLinear, slope, scale, 1 / power, offset), heap);
      const exact: PreparedPlane = (p, n) => k.encodeCurve(p, n, cutLinear, slope, scale, 1 / power, offset);
      if (!(cutLinear > 0)) return exact;
      const bent: PreparedPlane = (p, n) => k.encodeCurve(p, n, 0, slope, scale, 1 / power, offset);
      return tabled(step, [below(cutLinear), 4], { slope, cut: cutLinear }, heap, exact, bent);
    }
    case 'decode': {
      const { cutEncoded, slope, scale, power, offset } = step.curve;
      if (step.mirrored) return mirrored((p, n) => k.decodeCurve(p, n, cutEncoded, slope, scale, power, offset), heap);
      const exact: PreparedPlane = (p, n) => k.decodeCurve(p, n, cutEncoded, slope, scale, power, offset);
      if (!(cutEncoded > 0)) return exact;
      const bent: PreparedPlane = (p, n) => k.decodeCurve(p, n, 0, slope, scale, power, offset);
      return tabled(step, [below(cutEncoded), 4], { slope: 1 / slope, cut: cutEncoded }, heap, exact, bent);
    }
    case 'power': {
      const { exponent } = step;
      if (step.negatives === 'keep') return (p, n) => k.powKeepPlane(p, n, exponent);
      if (step.negatives === 'mirror') return (p, n) => k.powMirrorPlane(p, n, exponent);
      if (exponent === 1) return (p, n) => k.clampPlane(p, n, 0, Infinity);
      const exact: PreparedPlane = (p, n) => k.powPlane(p, n, exponent);
      return exponent >= 0.3 && exponent <= 3 ? tabled(step, [-80, 4], { held: 0 }, heap, exact) : exact;
    }
    case 'encodeLog':
    case 'decodeLog': {
      const { cut, a, b, c, d, e, f } = step.curve;
      const encode = step.kind === 'encodeLog';
      const at = heap.placeFloats([encode ? cut : e * cut + f, a, b, c, d, e, f]);
      // Light from a log climbs so steeply that a table would need many more entries.
      if (!encode) return (p, n) => k.decodeLog(p, n, at);
      const exact: PreparedPlane = (p, n) => k.encodeLog(p, n, at);
      if (!(cut > 0)) return exact;
      const bentAt = heap.placeFloats([0, a, b, c, d, e, f]);
      const bent: PreparedPlane = (p, n) => k.encodeLog(p, n, bentAt);
      return tabled(step, [below(cut), 16], { slope: e, cut, offset: f }, heap, exact, bent);
    }
    case 'encodePq':
      return (p, n) => k.encodePq(p, n);
    case 'decodePq':
      return (p, n) => k.decodePq(p, n);
    case 'clamp':
      return (p, n) => k.clampPlane(p, n, step.low, step.high);
    case 'table': {
      const at = heap.placeFloats(step.table);
      return (p, n) => k.tablePlane(p, n, at, step.table.length);
    }
    case 'plainPlane': {
      const change = planeFunction(step.recipe);
      return (p, n) => {
        const plane = heap.floats(p, n);
        for (let i = 0; i < n; i++) plane[i] = change(plane[i]!);
      };
    }
  }
}

/** The whole power of two at or below a number: a table of a curve begins there, below it is straight. */
const below = (x: number) => Math.floor(Math.log2(x));

/** What a curve makes of black. */
function darkest(exact: PreparedPlane, heap: Heap): number {
  const mark = heap.mark();
  const at = heap.allocatePlane(4);
  heap.kernels.fillPlane(at, 4, 0);
  exact(at, 4);
  const value = heap.floats(at, 4)[0]!;
  heap.release(mark);
  return value;
}

/** A curve as a table over 2^from … 2^to, made once a thread. */
function tabled(
  step: ColourStep,
  domain: readonly [number, number],
  under: Below,
  heap: Heap,
  exact: PreparedPlane,
  bent = exact,
): PreparedPlane {
  return prepareTable(curveTable(JSON.stringify(step), domain, under, heap, bent), heap, exact);
}

/** Runs a step on |x| and puts the signs back; rare enough to do without a kernel. */
function mirrored(run: PreparedPlane, heap: Heap): PreparedPlane {
  return (p, n) => {
    const signs = heap.floats(p, n).map((x) => (x < 0 ? -1 : 1));
    const plane = heap.floats(p, n);
    for (let i = 0; i < n; i++) plane[i] = plane[i]! * signs[i]!;
    run(p, n);
    const done = heap.floats(p, n);
    for (let i = 0; i < n; i++) done[i] = done[i]! * signs[i]!;
  };
}

function perPlane(run: PreparedPlane): PreparedProcessor {
  return (r, g, b, n) => {
    run(r, n);
    run(g, n);
    run(b, n);
  };
}
