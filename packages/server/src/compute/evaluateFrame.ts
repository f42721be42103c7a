import {
  evaluate,
  ExrError,
  Heap,
  kernels,
  PlanError,
  summarise,
  whyNotPlaced,
  type InputPlanes,
  type LedgerSummary,
  type Plan,
  type Plane,
  type Quad,
  type Size,
} from '@june-haze/core';
import { missingSentence, readPasses } from '@june-haze/files';
import type { FrameFile } from '../intake/frameFiles.ts';
import { decodePicture } from './decodePicture.ts';

/** Where each source's frame lies: by source, then by part. */
export type FrameFiles = Readonly<Record<string, Readonly<Record<number, FrameFile>>>>;

export interface EvaluatedFrame {
  readonly width: number;
  readonly height: number;
  readonly summary: LedgerSummary | undefined;
}

let heap: Heap | undefined;
/** This thread's heap; allocations are released by whoever makes them. */
export function threadHeap(): Heap {
  heap ??= new Heap(kernels());
  return heap;
}

/** Reads a plan's inputs for one frame, whole: each part once, however many passes share its chunks. Throws for one of another size. */
export async function readInputs(plan: Plan, files: FrameFiles, size: Size): Promise<InputPlanes[]> {
  const wanted = new Map<string, { sourceId: string; part: number; channels: Set<string> }>();
  const want = (sourceId: string, part: number, channels: readonly string[]) => {
    const key = `${sourceId}/${part}`;
    const entry = wanted.get(key) ?? { sourceId, part, channels: new Set<string>() };
    channels.forEach((c) => entry.channels.add(c));
    wanted.set(key, entry);
  };
  for (const input of plan.inputs) {
    want(input.sourceId, input.part, input.colour);
    if (input.alpha) want(input.sourceId, input.alpha.part, [input.alpha.channel]);
  }
  const planes = new Map<string, Plane>();
  for (const { sourceId, part, channels } of wanted.values()) {
    const file = files[sourceId]![part]!;
    const { name } = file;
    const read = await readFile(file, part - file.firstPart, [...channels]);
    if (read.missing.length) throw new ExrError(name, missingSentence(read.missing));
    const other = whyNotPlaced(name, { width: read.width, height: read.rows }, size);
    if (other) throw new PlanError(other);
    [...channels].forEach((c, i) => planes.set(`${sourceId}/${part}/${c}`, read.planes[i]!));
  }
  const plane = (sourceId: string, part: number, channel: string) => planes.get(`${sourceId}/${part}/${channel}`)!;
  return plan.inputs.map(({ sourceId, part, colour, alpha }) => ({
    colour: colour.map((c) => plane(sourceId, part, c)) as unknown as InputPlanes['colour'],
    ...(alpha ? { alpha: plane(sourceId, alpha.part, alpha.channel) } : {}),
  }));
}

/** Channels of one file at full size: black where the frame is to be left black. */
async function readFile(
  file: FrameFile,
  part: number,
  channels: readonly string[],
): Promise<Pick<Awaited<ReturnType<typeof readPasses>>, 'width' | 'rows' | 'planes' | 'missing'>> {
  const { path, name, width, height } = file;
  if (file.black) {
    const black = channels.map(() => new Float32Array(width * height));
    return { width, rows: height, planes: black, missing: [] };
  }
  if (file.kind === 'exr') return readPasses({ path, name, part, channels, data: false, level: 0 });
  const decoded = await decodePicture(file);
  return {
    width: decoded.width,
    rows: decoded.height,
    planes: channels.map((c) => decoded.planes[c]!),
    missing: [],
  };
}

/** Evaluates one frame; `onBand` gets each finished band. */
export async function evaluateFrame(
  plan: Plan,
  files: FrameFiles,
  statistics: boolean,
  { width, height }: Size,
  onBand: (row: number, rows: number, total: Quad, heap: Heap, width: number) => void,
): Promise<EvaluatedFrame> {
  const inputs = await readInputs(plan, files, { width, height });
  const rows = evaluate(plan, threadHeap(), {
    width,
    rows: height,
    inputs,
    statistics,
    onBand: (row, count, total, h) => onBand(row, count, total, h, width),
  });
  return { width, height, summary: rows && summarise(plan, [rows]) };
}
