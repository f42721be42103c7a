import { offeredChannels } from '@june-haze/core';
import { writeWhole } from '@june-haze/files';
import { asFloats, readWhole, withExr } from './samples.ts';

interface PixelOptions {
  part: string;
  channels?: string;
  channel?: string[];
  out: string;
}

/** Writes samples pixel-interleaved, top to bottom, over the data window, and prints their size. */
export async function pixels(path: string, options: PixelOptions): Promise<void> {
  const names = [...(options.channels ? options.channels.split(',') : []), ...(options.channel ?? [])];
  await withExr(path, async (file) => {
    const part = Number(options.part);
    const channels = names.length
      ? names
      : file.parts[part]
        ? offeredChannels(file.parts[part]).map((c) => c.name)
        : [];
    const { width, height, planes } = await readWhole(file, part, channels);
    const floats = planes.map(asFloats);
    const out = new Float32Array(width * height * channels.length);
    floats.forEach((plane, c) => {
      for (let i = 0, o = c; i < plane.length; i++, o += channels.length) out[o] = plane[i]!;
    });
    await writeWhole(options.out, (sink) => sink.write(0, new Uint8Array(out.buffer)));
    process.stdout.write(`${JSON.stringify({ width, height, channels })}\n`);
  });
}
