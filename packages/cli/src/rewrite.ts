import { dirname, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  asFloats,
  compressions,
  findPasses,
  numberToHalf,
  readChannels,
  writeExr,
  type Box,
  type Compression,
  type ExrAttribute,
  type ExrFile,
  type ExrPart,
  type LineSource,
  type PartToWrite,
  type Plane,
  type SampleType,
} from '@june-haze/core';
import { writeWhole, zlibCodec } from '@june-haze/files';
import { ComputePool } from '@june-haze/server/compute';
import { withExr } from './samples.ts';

interface RewriteOptions {
  codec?: string;
  type?: string;
  layout: string;
  layers: string;
  tile: string;
}

/** One channel to write, and where it is read. */
interface Taken {
  readonly part: ExrPart;
  readonly from: string;
  readonly name: string;
  readonly type: SampleType;
}

/** A part to write with its channels' sources, in the same order. */
interface Planned {
  readonly write: PartToWrite;
  readonly taken: readonly Taken[];
}

/** Packs a file anew. Values stay what they are, but for a change of type or a lossy codec; attributes that still hold are kept. */
export async function rewrite(from: string, to: string, options: RewriteOptions): Promise<void> {
  const codec = options.codec as Compression | undefined;
  if (codec && !compressions.includes(codec))
    throw new Error(`"${codec}" is no codec of EXR; there are ${compressions.join(', ')}.`);
  if (options.type && !['half', 'float', 'uint'].includes(options.type))
    throw new Error(`"${options.type}" is no sample type; there are half, float and uint.`);
  if (!['scanline', 'tiled'].includes(options.layout)) throw new Error('The layout is "scanline" or "tiled".');
  const tile = Number(options.tile);
  if (!(Number.isInteger(tile) && tile >= 1 && tile <= 8192)) throw new Error('A tile has a side of 1 to 8192 pixels.');
  await withExr(from, async (file) => {
    const files = plan(file, to, options);
    const pool = new ComputePool(join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs'));
    try {
      for (const { path, parts } of files) await writeParts(file, path, parts, pool);
    } finally {
      await pool.close();
    }
    process.stdout.write(`${JSON.stringify({ files: files.map((f) => ({ file: f.path, parts: f.parts.length })) })}\n`);
  });
}

function plan(file: ExrFile, to: string, options: RewriteOptions): { path: string; parts: Planned[] }[] {
  const part = (group: readonly Taken[], name?: string): Planned => {
    const first = group[0]!.part;
    return {
      taken: group,
      write: {
        ...(name === undefined ? {} : { name }),
        compression: (options.codec as Compression | undefined) ?? first.compression,
        dataWindow: first.dataWindow,
        displayWindow: first.displayWindow,
        channels: group.map((t) => ({
          name: t.name,
          type: t.type,
          perceptuallyLinear: t.part.channels.find((c) => c.name === t.from)!.perceptuallyLinear,
        })),
        ...(options.layout === 'tiled' ? { tiles: { width: Number(options.tile), height: Number(options.tile) } } : {}),
        attributes: Object.fromEntries(first.attributes) as Record<string, ExrAttribute>,
      },
    };
  };
  const all = file.parts.map((p) => {
    if (p.channels.some((c) => c.xSampling !== 1 || c.ySampling !== 1))
      throw new Error(`${file.source.name}: sub-sampled channels cannot be packed anew.`);
    return p.channels.map((c): Taken => {
      const type = (options.type as SampleType | undefined) ?? c.type;
      return { part: p, from: c.name, name: c.name, type };
    });
  });
  if (options.layers === 'parts' || options.layers === 'files') {
    const layers = findPasses(file.parts).map((pass) => ({
      name: pass.name,
      group: all[pass.part]!.filter((t) => pass.channels.some((c) => c.name === t.from)),
    }));
    if (options.layers === 'parts') return [{ path: to, parts: distinct(layers).map((l) => part(l.group, l.name)) }];
    const stem = to.slice(0, to.length - extname(to).length);
    return distinct(layers).map((l) => ({
      path: `${stem}.${l.name.replace(/[^\w-]+/g, '_')}${extname(to) || '.exr'}`,
      parts: [part(l.group)],
    }));
  }
  if (options.layers === 'together') return [{ path: to, parts: [part(together(file, all))] }];
  if (options.layers !== 'same') throw new Error('Layers go "together", into "parts" or into "files".');
  return [
    { path: to, parts: all.map((group, i) => part(group, file.parts.length > 1 ? file.parts[i]!.name : undefined)) },
  ];
}

/** All parts' channels in one part; a part's name goes before its channels' where they would meet. */
function together(file: ExrFile, all: readonly (readonly Taken[])[]): Taken[] {
  const size = (p: ExrPart) => JSON.stringify(p.dataWindow);
  const odd = file.parts.find((p) => size(p) !== size(file.parts[0]!));
  if (odd)
    throw new Error(`${file.source.name}: part "${odd.name}" has another data window; it cannot join the others.`);
  const seen = new Set<string>();
  return all.flatMap((group) =>
    group.map((t) => {
      const name = seen.has(t.name) ? `${t.part.name}.${t.name}` : t.name;
      seen.add(name);
      return { ...t, name };
    }),
  );
}

function distinct<T extends { name: string }>(layers: readonly T[]): T[] {
  const seen = new Map<string, number>();
  return layers.map((l) => {
    const times = seen.get(l.name) ?? 0;
    seen.set(l.name, times + 1);
    return times ? { ...l, name: `${l.name}_${times + 1}` } : l;
  });
}

/** Reads here, packs on all threads. */
async function writeParts(file: ExrFile, path: string, parts: readonly Planned[], pool: ComputePool): Promise<void> {
  const missing: string[] = [];
  const lines: LineSource = async (index, top, bottom) => {
    const { taken, write } = parts[index]!;
    const region: Box = { ...write.dataWindow, yMin: top, yMax: bottom };
    const planes = new Map<Taken, Plane>();
    for (const source of new Set(taken.map((t) => t.part))) {
      const group = taken.filter((t) => t.part === source);
      const read = await readChannels(
        file,
        source.index,
        group.map((t) => t.from),
        zlibCodec,
        { region },
      );
      missing.push(...read.missing.map(([a, b]) => `${a}–${b}`));
      group.forEach((t, i) => planes.set(t, convert(read.planes[i]!, t.type)));
    }
    if (missing.length)
      throw new Error(`${file.source.name}: lines ${missing.join(', ')} cannot be read; nothing was written.`);
    return taken.map((t) => planes.get(t)!);
  };
  await writeWhole(path, (sink) =>
    writeExr(
      sink,
      parts.map((p) => p.write),
      lines,
      zlibCodec,
      { pack: (chunk) => pool.run('packOne', chunk), ahead: 2 * pool.threads },
    ),
  );
}

function convert(plane: Plane, type: SampleType): Plane {
  const now = plane instanceof Uint16Array ? 'half' : plane instanceof Float32Array ? 'float' : 'uint';
  if (now === type) return plane;
  const floats = asFloats(plane);
  if (type === 'float') return floats;
  if (type === 'uint') return Uint32Array.from(floats, (v) => Math.max(0, Math.min(4294967295, Math.round(v) || 0)));
  return Uint16Array.from(floats, numberToHalf);
}
