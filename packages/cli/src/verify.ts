import { asFloats, levelBox, readChannels, tableLevels, tileLayout, type ExrFile, type ExrPart } from '@june-haze/core';
import { zlibCodec } from '@june-haze/files';
import { withExr } from './samples.ts';

/** Lines read at a time: a file may be larger than memory. A multiple of every codec's lines in a chunk. */
const bandLines = 256;

/** Reads every sample of a file, smaller levels included; whole means no line is missing. Counts what is not a finite number. */
export async function verify(path: string, options: { json?: boolean }): Promise<void> {
  const result = await withExr(path, async (file) => {
    const parts = [];
    for (const part of file.parts) parts.push(await verifyPart(file, part));
    return { file: path, whole: parts.every((p) => p.missing.length === 0), parts };
  });
  if (options.json) process.stdout.write(`${JSON.stringify(result)}\n`);
  else process.stdout.write(`${path}: ${result.whole ? 'whole' : 'not whole'}\n`);
  if (!result.whole) process.exitCode = 1;
}

async function verifyPart(file: ExrFile, part: ExrPart) {
  const names = part.channels.map((c) => c.name);
  const layout = tileLayout(part);
  const missing: (readonly [number, number])[] = [];
  let nonFinite = 0;
  for (const level of layout ? tableLevels(layout, part.dataWindow) : [[0, 0] as const]) {
    const whole = levelBox(layout, part.dataWindow, level[0], level[1]);
    for (let top = whole.yMin; top <= whole.yMax; top += bandLines) {
      const region = { ...whole, yMin: top, yMax: Math.min(top + bandLines - 1, whole.yMax) };
      const read = await readChannels(file, part.index, names, zlibCodec, { region, level });
      missing.push(...read.missing);
      for (const plane of read.planes) for (const x of asFloats(plane)) if (!Number.isFinite(x)) nonFinite++;
    }
  }
  return { index: part.index, name: part.name, channels: names.length, missing, nonFinite };
}
