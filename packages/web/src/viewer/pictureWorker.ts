import {
  emptyWhole,
  evaluate,
  gather,
  Heap,
  keepPicture,
  kernels,
  keptKey,
  neededRows,
  prepareClipCount,
  prepareSteps,
  sampleBytes,
  whyNotPlaced,
  stepsOf,
  type InputPlanes,
  type KeptPicture,
  type PlanStep,
  type Plan,
  type PlanInput,
  type PreparedProcessor,
  type Plane,
  type Quad,
  type RowRange,
  type ShotColour,
  type WholePicture,
  wholeNodes,
} from '@june-haze/core';
import { planesHeaderSchema } from '@june-haze/contract';
import { loadColour } from '../api/colour.ts';
import { failure } from '../api/request.ts';
import { PlaneCache, type Fetched } from './planeCache.ts';
import type { FromWorker, PictureRequest, ToWorker } from './messages.ts';

const heap = new Heap(kernels());
const cache = new PlaneCache(384 << 20);

/** Fetches the rows of some channels, kept as they come: halves stay halves. Throws the server's sentence, or one for another size. */
async function fetchPlanes(
  request: PictureRequest,
  { sourceId, data }: PlanInput,
  part: number,
  channels: readonly string[],
  top: number,
  end: number,
): Promise<Fetched> {
  const frame = request.sourceFrames[sourceId] ?? request.frame;
  const query = new URLSearchParams({
    frame: String(frame),
    stamp: request.stamps[sourceId] ?? '',
    part: String(part),
    level: String(request.level),
    top: String(top),
    end: String(end),
    data: data ? '1' : '0',
  });
  for (const c of channels) query.append('channel', c);
  const address = `/api/sources/${sourceId}/planes?${query.toString()}`;
  return cache.get(address, async () => {
    const response = await fetch(address);
    if (!response.ok) throw await failure(response);
    const {
      types,
      rows,
      width,
      missing,
      file,
      size,
      data: held,
    } = planesHeaderSchema.parse(JSON.parse(decodeURIComponent(response.headers.get('x-june-planes')!)));
    const other = whyNotPlaced(file, size, request.size);
    if (other) throw new Error(other);
    if (missing.length)
      throw new Error(
        `Frame ${frame} ends early or is damaged: lines ${missing.map(([a, b]) => `${a}–${b}`).join(', ')} cannot be read.`,
      );
    const bytes = await response.arrayBuffer();
    let at = 0;
    const planes = types.map((type): Plane => {
      const n = rows * width;
      const length = n * sampleBytes[type];
      // Wider samples behind an odd number of halves do not lie at a multiple of their size.
      const [buffer, from] = at % sampleBytes[type] ? [bytes.slice(at, at + length), 0] : [bytes, at];
      at += length;
      if (type === 'half') return new Uint16Array(buffer, from, n);
      return type === 'float' ? new Float32Array(buffer, from, n) : new Uint32Array(buffer, from, n);
    });
    return { planes, data: held };
  });
}

/**
 * The rows of every input that are needed. Alpha is made smaller as its colour is: both averaged, or, of data, neither.
 */
async function readInputs(request: PictureRequest, needed: readonly (RowRange | undefined)[]): Promise<InputPlanes[]> {
  return Promise.all(
    request.plan.inputs.map(async (input, i): Promise<InputPlanes> => {
      const [top, end] = (needed[i] ?? [0, 0]).map((row) => Math.min(request.height, Math.max(0, row))) as [
        number,
        number,
      ];
      const window = { x: 0, y: top, width: request.width, height: end - top };
      if (end <= top) return { colour: [nothing, nothing, nothing], window: { ...window, height: 0 } };
      // One channel may stand for all three.
      const channels = [...new Set(input.colour)];
      const [{ planes, data }, alpha] = await Promise.all([
        fetchPlanes(request, input, input.part, channels, top, end),
        input.alpha ? fetchPlanes(request, input, input.alpha.part, [input.alpha.channel], top, end) : undefined,
      ]);
      const colour = input.colour.map((c) => planes[channels.indexOf(c)]!);
      return {
        colour: colour as unknown as InputPlanes['colour'],
        ...(alpha ? { alpha: alpha.planes[0]! } : {}),
        window,
        data,
      };
    }),
  );
}
const nothing = new Float32Array();

/** The inputs of some rows, with the whole pictures that finishes look at. */
async function readRows(request: PictureRequest, plan: Plan, top: number, end: number) {
  const { width, height, level } = request;
  const whole = new Map<number, WholePicture>();
  const nodes = wholeNodes(plan);
  const needed = neededRows(plan, { top: nodes.length ? 0 : top, end: nodes.length ? height : end, height, level });
  const inputs = await readInputs(request, needed);
  for (const node of nodes) {
    const into = emptyWhole(plan, node, width, height, level);
    gather(plan, heap, { width, height, rows: height, level, inputs, whole }, node, into);
    whole.set(node, into);
  }
  return { inputs, whole };
}

/** The plan with the beauty taken off at the end: what is left is the difference. */
function differencePlan(plan: Plan): Plan {
  if (!plan.balance) return plan;
  const { picture, changes } = plan.balance;
  const from = plan.nodes.length - 1;
  const steps = [{ entry: 0, picture, changes, operation: 'minus', mix: 1 } as const];
  return { ...plan, nodes: [...plan.nodes, { kind: 'run', from, steps }] };
}

async function picture({ id, request, top, end }: ToWorker): Promise<void> {
  const difference = request.show === 'difference' && request.plan.balance !== undefined;
  const plan = difference ? differencePlan(request.plan) : request.plan;
  const [{ inputs, whole }, colour] = await Promise.all([
    readRows(request, plan, top, end),
    loadColour(request.colour),
  ]);
  const rows = end - top;
  const view = viewOf(request, colour);
  const place = { ...placeOf(request, top, rows), inputs, whole };
  // Kept planes lie below what is given back after each picture.
  const kept = keptPictures(request, plan, place);
  const mark = heap.mark();
  const countClipped = prepareClipCount(colour.lookSteps(request.workingSpace, request.viewing), heap);
  let clipped = countClipped ? 0 : undefined;
  const rgba = new Uint8Array(rows * request.width * 4);
  const onBand = (row: number, count: number, total: Quad, h: Heap) => {
    const n = count * request.width;
    if (countClipped) clipped! += countCopy(countClipped, total, n, h);
    if (difference) amplify(total, n, h);
    else if (request.channel === 'alpha') for (let c = 0; c < 3; c++) h.floats(total[c]!, n).set(h.floats(total[3], n));
    else view(total[0], total[1], total[2], n);
    const inner = h.mark();
    const codes = h.allocate(n * 4);
    h.kernels.packCodes(total[0], total[1], total[2], codes, n);
    const target = rgba.subarray(row * request.width * 4, row * request.width * 4 + n * 4);
    target.set(h.bytes(codes, n * 4));
    h.release(inner);
    if (!difference) solo(target, request);
  };
  evaluate(plan, heap, { ...place, kept, onBand });
  heap.release(mark);
  const more = clipped === undefined ? {} : { clipped };
  post({ id, kind: 'picture', rgba: rgba.buffer, top, ...more }, [rgba.buffer]);
}

/** The view that was prepared last: it lies at the bottom of the heap, below what is kept, with room for another of its kind. */
let prepared: { readonly key: string; readonly view: PreparedProcessor; readonly end: number } | undefined;
const roomForViews = 1 << 20;

function viewOf({ colour: key, workingSpace, viewing }: PictureRequest, colour: ShotColour): PreparedProcessor {
  const wanted = JSON.stringify([key, workingSpace, viewing]);
  if (prepared?.key === wanted) return prepared.view;
  const steps = colour.view(workingSpace, viewing);
  const kept = heap.mark();
  heap.clear();
  let view = prepareSteps(steps, heap);
  if (prepared && heap.mark() <= prepared.end) {
    // An exposure of the viewing leaves converted pictures what they are.
    heap.release(kept);
    prepared = { key: wanted, view, end: prepared.end };
    return view;
  }
  // It may have run over them.
  pictures.clear();
  heap.clear();
  view = prepareSteps(steps, heap);
  heap.allocate(roomForViews);
  prepared = { key: wanted, view, end: heap.mark() };
  return view;
}

/** What a worker keeps of converted pictures at most; more is thrown away together. */
const keptBytes = 192 << 20;
const pictures = new Map<string, KeptPicture>();
let seen: ReadonlySet<string> = new Set();

/**
 * Converted pictures of a plan's steps: one that was also in the picture before is made once and kept, so that what is dragged costs
 * only itself and what lies below it.
 */
function keptPictures(
  request: PictureRequest,
  plan: Plan,
  place: Parameters<typeof keepPicture>[2],
): Map<PlanStep, KeptPicture> {
  const kept = new Map<PlanStep, KeptPicture>();
  const now = new Set<string>();
  for (const step of stepsOf(plan)) {
    const own = keptKey(plan, step);
    if (own === undefined || step.picture.kind !== 'input') continue;
    const { sourceId } = plan.inputs[step.picture.input]!;
    const where = [request.frame, request.stamps[sourceId], request.level, place.firstRow, place.rows];
    const key = `${where.join()} ${own}`;
    now.add(key);
    const known = pictures.get(key);
    const found =
      known ?? (seen.has(key) && heap.mark() < keptBytes ? keepPicture(plan, heap, place, step) : undefined);
    if (!found) continue;
    pictures.set(key, found);
    kept.set(step, found);
  }
  // Full of what nobody asks for any more: begun anew with the next picture.
  if (heap.mark() >= keptBytes && now.size > kept.size) prepared = undefined;
  seen = now;
  return kept;
}

const placeOf = ({ width, height, level }: PictureRequest, firstRow: number, rows: number) => ({
  width,
  height,
  level,
  firstRow,
  rows,
});

/** What is counted over some rows: shares, balance, colours that tables cut off. */
async function count({ id, request, top, end }: ToWorker): Promise<void> {
  const { inputs, whole } = await readRows(request, request.plan, held.top, held.end);
  const place = placeOf(request, top, end - top);
  const statistics = evaluate(request.plan, heap, {
    ...place,
    inputs,
    whole,
    statistics: true,
    onBand: () => undefined,
  });
  post({ id, kind: 'count', statistics: statistics! });
}

/** Counts what a look cuts off on copies of the total's planes. */
function countCopy(
  count: (r: number, g: number, b: number, n: number) => number,
  total: Quad,
  n: number,
  h: Heap,
): number {
  const mark = h.mark();
  const copies = [0, 1, 2].map((c) => {
    const at = h.allocatePlane(n);
    h.floats(at, n).set(h.floats(total[c]!, n));
    return at;
  }) as [number, number, number];
  const counted = count(...copies, n);
  h.release(mark);
  return counted;
}

/** Shows a difference of one hundredth as white. */
function amplify(total: Quad, n: number, h: Heap): void {
  for (const p of total.slice(0, 3)) {
    const plane = h.floats(p, n);
    for (let i = 0; i < n; i++) plane[i] = Math.abs(plane[i]!) * 100;
  }
}

function solo(rgba: Uint8Array, { channel, plan }: PictureRequest): void {
  if (channel === 'colour' || channel === 'alpha') return;
  const weights = plan.luminance;
  const index = { red: 0, green: 1, blue: 2, luminance: -1 }[channel];
  for (let i = 0; i < rgba.length; i += 4) {
    const v =
      index < 0 ? weights[0] * rgba[i]! + weights[1] * rgba[i + 1]! + weights[2] * rgba[i + 2]! : rgba[i + index]!;
    rgba[i] = rgba[i + 1] = rgba[i + 2] = v;
  }
}

/** One pixel's numbers: the rows this worker holds are evaluated again for that row alone. */
async function probe({ id, request, top, end, x = 0 }: ToWorker): Promise<void> {
  const [{ inputs, whole }, colour] = await Promise.all([probeRows(request, top, end), loadColour(request.colour)]);
  const view = viewOf(request, colour);
  const mark = heap.mark();
  let working: [number, number, number, number] = [0, 0, 0, 0];
  let codes: [number, number, number] = [0, 0, 0];
  evaluate(request.plan, heap, {
    ...placeOf(request, top, 1),
    inputs,
    whole,
    onBand: (_row, _count, total, h) => {
      working = total.map((p) => h.floats(p, request.width)[x]!) as typeof working;
      view(total[0], total[1], total[2], request.width);
      const at = h.allocate(request.width * 4);
      h.kernels.packCodes(total[0], total[1], total[2], at, request.width);
      codes = [...h.bytes(at, request.width * 4).slice(x * 4, x * 4 + 3)] as typeof codes;
    },
  });
  const against = request.plan.balance?.picture;
  const index = against?.kind === 'input' ? against.input : 0;
  const { sourceId } = request.plan.inputs[index] ?? {};
  const values = declaredAt(inputs[index], x, top);
  const declared = sourceId !== undefined && values ? { sourceId, values } : undefined;
  heap.release(mark);
  post({ id, kind: 'probe', probe: { declared, working, codes } });
}

function toFloat(plane: Plane, i: number): number {
  if (!(plane instanceof Uint16Array)) return plane[i]!;
  const mark = heap.mark();
  const [narrow, wide] = [heap.allocate(16), heap.allocatePlane(4)];
  heap.halves(narrow, 1)[0] = plane[i]!;
  heap.kernels.halfToFloat(narrow, wide, 1);
  const value = heap.floats(wide, 1)[0]!;
  heap.release(mark);
  return value;
}

/** The rows this worker answered for last: their planes lie in the cache. */
let held = { top: 0, end: 0 };

/** The inputs of the probed row, from the rows that are held. */
async function probeRows(request: PictureRequest, row: number, end: number) {
  const rows = row >= held.top && row < held.end ? held : { top: row, end };
  return readRows(request, request.plan, rows.top, rows.end);
}

/** An input's own numbers at a pixel; undefined where it holds none. */
function declaredAt(input: InputPlanes | undefined, x: number, y: number): [number, number, number] | undefined {
  const window = input?.window;
  if (!input || !window || y < window.y || y >= window.y + window.height) return undefined;
  const at = (y - window.y) * window.width + x - window.x;
  return input.colour.map((p) => toFloat(p, at)) as [number, number, number];
}

function post(message: FromWorker, transfer: Transferable[] = []): void {
  self.postMessage(message, { transfer });
}

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'picture') held = { top: data.top, end: data.end };
  const work = data.kind === 'picture' ? picture(data) : data.kind === 'count' ? count(data) : probe(data);
  work.catch((error: unknown) =>
    post({ id: data.id, kind: 'error', message: error instanceof Error ? error.message : String(error) }),
  );
};
