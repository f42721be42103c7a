import { chunksOver, tableLevels, tileLayout, levelBox } from './geometry.ts';
import type { ExrFile, ExrPart } from './types.ts';

/** How much of a file is there, as its chunk tables say. */
export interface Wholeness {
  readonly chunks: number;
  /** Chunks that the table does not point to, or that lie beyond the end of the file. */
  readonly missing: number;
}

/**
 * Whether every chunk of a file can be there, without reading its pixels: the table must point into the file, and the chunk that lies
 * last must end before the file does.
 */
export async function wholenessOf(file: ExrFile): Promise<Wholeness> {
  let chunks = 0;
  let missing = 0;
  let last = { offset: 0, part: undefined as ExrPart | undefined };
  for (const part of file.parts) {
    chunks += part.offsets.length;
    for (const offset of part.offsets) {
      if (Number.isNaN(offset)) missing++;
      else if (offset >= last.offset) last = { offset, part };
    }
  }
  if (last.part && !(await endsInside(file, last.part, last.offset))) missing++;
  return { chunks, missing };
}

/** Reads the chunk's own size (OpenEXR File Layout, "Regular image pixel data" and "Deep data"). */
async function endsInside(file: ExrFile, part: ExrPart, offset: number): Promise<boolean> {
  const lead = (file.multiPart ? 4 : 0) + (part.type.endsWith('tile') || part.type === 'tiledimage' ? 16 : 4);
  const deep = part.type.startsWith('deep');
  const sizes = deep ? 24 : 4;
  if (offset + lead + sizes > file.source.size) return false;
  const head = await file.source.read(offset + lead, sizes);
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const size = deep ? Number(view.getBigUint64(0, true) + view.getBigUint64(8, true)) : view.getInt32(0, true);
  return size >= 0 && offset + lead + sizes + size <= file.source.size;
}

/** The share of a part's lines that can be there: for words such as "61 % readable". */
export function readableShare(part: ExrPart): number {
  const layout = tileLayout(part);
  const levels = layout ? tableLevels(layout, part.dataWindow).slice(0, 1) : [[0, 0] as const];
  const places = levels.flatMap(([x, y]) => chunksOver(part, levelBox(layout, part.dataWindow, x, y), [x, y]));
  return places.length ? places.filter((p) => !Number.isNaN(part.offsets[p.index]!)).length / places.length : 0;
}
