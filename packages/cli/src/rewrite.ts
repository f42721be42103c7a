import { dirname, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  arrangeLayers,
  compressions,
  findPasses,
  layerings,
  writeExr,
  type Compression,
  type ExrAttribute,
  type ExrFile,
  type ExrPart,
  type Layering,
  type PackedPart,
  type SampleType,
} from '@june-haze/core';
import { linesOfPacked, writeWhole, zlibCodec, type SamplesAt } from '@june-haze/files';
import { ComputePool } from '@june-haze/server/compute';
import { withExr } from './samples.ts';

interface RewriteOptions {
  codec?: string;
  type?: string;
  layout: string;
  layers: string;
  tile: string;
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
      for (const { path, parts } of files) await writeParts(path, parts, pool);
    } finally {
      await pool.close();
    }
    process.stdout.write(`${JSON.stringify({ files: files.map((f) => ({ file: f.path, parts: f.parts.length })) })}\n`);
  });
}

interface FileToWrite {
  readonly path: string;
  readonly parts: readonly PackedPart<SamplesAt>[];
}

function plan(file: ExrFile, to: string, options: RewriteOptions): FileToWrite[] {
  if (!['same', ...layerings].includes(options.layers))
    throw new Error('Layers go "together", into "parts" or into "files".');
  for (const part of file.parts)
    if (part.channels.some((c) => c.xSampling !== 1 || c.ySampling !== 1))
      throw new Error(`${file.source.name}: sub-sampled channels cannot be packed anew.`);
  const asPasses = options.layers === 'parts' || options.layers === 'files';
  const layers = asPasses
    ? findPasses(file.parts).map((p) =>
        layerOf(
          file.parts[p.part]!,
          p.name,
          p.channels.map((c) => c.name),
        ),
      )
    : file.parts.map((p) => layerOf(p, p.name));
  const codec = options.codec as Compression | undefined;
  const arranged =
    options.layers === 'same'
      ? [{ layer: undefined, parts: layers.flatMap((l) => arrangeLayers([l], 'parts', l.compression)[0]!.parts) }]
      : arrangeLayers(layers, options.layers as Layering, layers[0]!.compression);
  const stem = to.slice(0, to.length - extname(to).length);
  return arranged.map(({ layer, parts }) => ({
    path: layer === undefined ? to : `${stem}.${layer.replace(/[^\w-]+/g, '_')}${extname(to) || '.exr'}`,
    parts: parts.map(({ write: { name, ...write }, from }) => ({
      from,
      write: {
        ...write,
        ...(name === undefined || (options.layers === 'same' && parts.length === 1) ? {} : { name }),
        ...(codec ? { compression: codec } : {}),
        ...(options.layout === 'tiled' ? { tiles: { width: Number(options.tile), height: Number(options.tile) } } : {}),
      },
    })),
  }));

  function layerOf(part: ExrPart, name: string, only?: readonly string[]) {
    const channels = part.channels.filter((c) => only?.includes(c.name) ?? true);
    return {
      name,
      owner: part.name,
      compression: part.compression,
      dataWindow: part.dataWindow,
      displayWindow: part.displayWindow,
      attributes: Object.fromEntries(part.attributes) as Record<string, ExrAttribute>,
      channels: channels.map((c) => {
        const type = (options.type as SampleType | undefined) ?? c.type;
        return { ...c, type, from: { file, part, channel: c.name, type } };
      }),
    };
  }
}

/** Reads here, packs on all threads. */
const writeParts = (path: string, parts: readonly PackedPart<SamplesAt>[], pool: ComputePool): Promise<void> =>
  writeWhole(path, (sink) =>
    writeExr(
      sink,
      parts.map((p) => p.write),
      linesOfPacked(parts),
      zlibCodec,
      { pack: (band) => pool.run('packElsewhere', band), ahead: 2 * pool.threads },
    ),
  );
