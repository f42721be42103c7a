import { readChannels } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import { asFloats, withExr } from './samples.ts';

/** Reads every sample of a file; whole means no line is missing. Counts what is not a finite number. */
export async function verify(path: string, options: { json?: boolean }): Promise<void> {
  const result = await withExr(path, async (file) => {
    const parts = [];
    for (const part of file.parts) {
      const { planes, missing } = await readChannels(
        file,
        part.index,
        part.channels.map((c) => c.name),
        zlibCodec,
      );
      let nonFinite = 0;
      for (const plane of planes) for (const x of asFloats(plane)) if (!Number.isFinite(x)) nonFinite++;
      parts.push({ index: part.index, name: part.name, channels: part.channels.length, missing, nonFinite });
    }
    return { file: path, whole: parts.every((p) => p.missing.length === 0), parts };
  });
  if (options.json) process.stdout.write(`${JSON.stringify(result)}\n`);
  else process.stdout.write(`${path}: ${result.whole ? 'whole' : 'not whole'}\n`);
  if (!result.whole) process.exitCode = 1;
}
