import { asFloats, offeredChannels, readChannels, sampleGrid, type ExrFile, type Plane } from '@june-haze/core';
import { writeWhole, zlibCodec } from '@june-haze/files';
import { readWhole, refuseMissing, withExr } from './samples.ts';

interface PixelOptions {
  part: string;
  channels?: string;
  channel?: string[];
  out: string;
}

interface Samples {
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Plane[];
}

/** Writes samples pixel-interleaved, top to bottom, over the data window, and prints their size. */
export async function pixels(path: string, options: PixelOptions): Promise<void> {
  const names = [...(options.channels ? options.channels.split(',') : []), ...(options.channel ?? [])];
  await withExr(path, async (file) => {
    const part = Number(options.part);
    const offered = file.parts[part] ? offeredChannels(file.parts[part]).map((c) => c.name) : [];
    const channels = names.length ? names : offered;
    const stored = channels.some((c) => !offered.includes(c));
    const { width, height, planes } = stored
      ? await ownSamples(file, part, channels)
      : await readWhole(file, part, channels);
    const floats = planes.map(asFloats);
    const out = new Float32Array(width * height * channels.length);
    floats.forEach((plane, c) => {
      for (let i = 0, o = c; i < plane.length; i++, o += channels.length) out[o] = plane[i]!;
    });
    await writeWhole(options.out, (sink) => sink.write(0, new Uint8Array(out.buffer)));
    process.stdout.write(`${JSON.stringify({ width, height, channels })}\n`);
  });
}

/** Channels as they are stored, with fewer samples than pixels where they are sub-sampled: luma and colour differences too. */
async function ownSamples(file: ExrFile, index: number, names: readonly string[]): Promise<Samples> {
  const part = file.parts[index];
  const { planes, missing } = await readChannels(file, index, names, zlibCodec);
  refuseMissing(file, missing);
  const grids = names.map((n) =>
    sampleGrid(
      part!.channels.find((c) => c.name === n)!,
      part!.dataWindow,
    ),
  );
  const [{ width, height }] = grids as [Samples];
  const odd = grids.findIndex((g) => g.width !== width || g.height !== height);
  if (odd >= 0)
    throw new Error(
      `${file.source.name}: channel "${names[odd]}" is sampled otherwise than "${names[0]}"; ask for each kind by itself.`,
    );
  return { width, height, planes };
}
