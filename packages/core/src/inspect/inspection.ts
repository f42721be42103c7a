import type { Vector3 } from '../colour/matrix.ts';
import type { PreparedProcessor } from '../colour/prepare.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Quad } from '../operations/blend.ts';
import { codeInRange, colourOfId, type DataRange } from './data.ts';
import { stopBandOf, stopBands } from './stops.ts';

/**
 * How a picture is looked at. Colour, a channel and luminance go through the viewing; the others show numbers: alpha as codes, stops of the
 * working space's luminance from middle grey as bands, data within a range, IDs each in a colour of its own.
 */
export type Inspection =
  | { readonly kind: 'colour' | 'red' | 'green' | 'blue' | 'luminance' | 'alpha' | 'stops' | 'ids' }
  /** The first channel within a range, or three channels as a vector. */
  | ({ readonly kind: 'range' | 'vectors' } & DataRange);

export type InspectionKind = Inspection['kind'];

export interface Drawing {
  readonly inspection: Inspection;
  /** The viewing, over planes of the total. */
  readonly view: PreparedProcessor;
  /** Weights of the working space's luminance. */
  readonly luminance: Vector3;
  readonly heap: Heap;
}

/**
 * Draws n pixels of a total (scene-linear, working space, premultiplied; written over) into RGBA8, opaque.
 */
export function drawInspected(total: Quad, n: number, to: Uint8Array, drawing: Drawing): void {
  const { inspection, heap } = drawing;
  switch (inspection.kind) {
    case 'stops':
      return drawStops(total, n, to, drawing);
    case 'range':
    case 'vectors':
      return drawData(total, n, to, heap, inspection, inspection.kind === 'vectors');
    case 'ids':
      return drawIds(total, n, to, heap);
    default:
      drawSeen(total, n, to, drawing, inspection.kind);
  }
}

type Seen = Exclude<InspectionKind, 'stops' | 'ids' | 'range' | 'vectors'>;

function drawSeen(total: Quad, n: number, to: Uint8Array, { view, luminance, heap }: Drawing, kind: Seen): void {
  const { kernels } = heap;
  if (kind === 'luminance') {
    // The light of it alone goes through the view, as a grey of the same luminance.
    kernels.scale3(total[0], total[1], total[2], n, ...luminance);
    kernels.addScaled(total[0], total[1], n, 1);
    kernels.addScaled(total[0], total[2], n, 1);
    kernels.copyPlane(total[1], total[0], n);
    kernels.copyPlane(total[2], total[0], n);
  }
  if (kind === 'alpha') for (const p of [total[0], total[1], total[2]]) kernels.copyPlane(p, total[3], n);
  else view(total[0], total[1], total[2], n);
  const one = { red: total[0], green: total[1], blue: total[2] }[kind as string];
  const [r, g, b] = one === undefined ? total : [one, one, one];
  const mark = heap.mark();
  const codes = heap.allocate(n * 4);
  kernels.packCodes(r, g, b, codes, n);
  to.set(heap.bytes(codes, n * 4));
  heap.release(mark);
}

function drawStops(total: Quad, n: number, to: Uint8Array, { luminance, heap }: Drawing): void {
  const [r, g, b] = [0, 1, 2].map((c) => heap.floats(total[c]!, n)) as [Float32Array, Float32Array, Float32Array];
  const [wr, wg, wb] = luminance;
  for (let i = 0; i < n; i++) {
    const { colour } = stopBands[stopBandOf(wr * r[i]! + wg * g[i]! + wb * b[i]!)]!;
    put(to, i, colour[0], colour[1], colour[2]);
  }
}

function drawData(total: Quad, n: number, to: Uint8Array, heap: Heap, range: DataRange, three: boolean): void {
  const planes = [0, 1, 2].map((c) => heap.floats(total[three ? c : 0]!, n));
  const [r, g, b] = planes as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++)
    put(to, i, codeInRange(r[i]!, range), codeInRange(g[i]!, range), codeInRange(b[i]!, range));
}

function drawIds(total: Quad, n: number, to: Uint8Array, heap: Heap): void {
  const ids = heap.floats(total[0], n);
  for (let i = 0; i < n; i++) {
    const [r, g, b] = colourOfId(ids[i]!);
    put(to, i, r, g, b);
  }
}

function put(to: Uint8Array, pixel: number, r: number, g: number, b: number): void {
  const i = 4 * pixel;
  to[i] = r;
  to[i + 1] = g;
  to[i + 2] = b;
  to[i + 3] = 255;
}
