import { boxHeight, boxWidth, openExr, readOffered, type ExrFile, type Plane } from '@june-haze/core';
import { openSource, zlibCodec } from '@june-haze/files';

/** Opens a file, hands it over and closes it whatever happens. */
export async function withExr<T>(path: string, use: (file: ExrFile) => Promise<T>): Promise<T> {
  const source = await openSource(path);
  try {
    return await use(await openExr(source));
  } finally {
    await source.close();
  }
}

/** Throws a sentence that names the lines that a file does not hold. */
export function refuseMissing(file: ExrFile, missing: readonly (readonly [number, number])[]): void {
  if (!missing.length) return;
  const lines = missing.map(([a, b]) => `${a}–${b}`).join(', ');
  throw new Error(`${file.source.name}: the file ends early or is damaged; lines ${lines} cannot be read.`);
}

/** Channels of a part over its whole data window. Throws when lines are missing: half a picture is no answer here. */
export async function readWhole(
  file: ExrFile,
  part: number,
  names: readonly string[],
): Promise<{ width: number; height: number; planes: readonly Plane[] }> {
  const { planes, missing, region } = await readOffered(file, part, names, zlibCodec);
  refuseMissing(file, missing);
  const [width, height] = [boxWidth(region), boxHeight(region)];
  const odd = names.find((_, i) => planes[i]!.length !== width * height);
  if (odd !== undefined) throw new Error(`${file.source.name}: channel "${odd}" has fewer samples than pixels.`);
  return { width, height, planes };
}
