import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { contentPrint } from '../fileState.ts';

const block = 64 * 1024;

/** As much of a look as is sent to another thread: twenty thousand whole ones take a second to copy. */
export interface FrameFileSize {
  readonly file: string;
  readonly frame: number;
  readonly bytes: number;
}

/**
 * Frames that hold the same bytes as an earlier one. Only files of equal size are opened; of those a block at eight places is compared,
 * the last ends the file.
 */
export async function findRepeats(
  looks: readonly FrameFileSize[],
  locate: (file: string) => Promise<string>,
): Promise<(readonly [number, number])[]> {
  const bySize = new Map<number, FrameFileSize[]>();
  for (const look of looks) {
    const same = bySize.get(look.bytes);
    if (same) same.push(look);
    else bySize.set(look.bytes, [look]);
  }
  const repeats: (readonly [number, number])[] = [];
  for (const [size, same] of bySize) {
    if (same.length < 2) continue;
    const first = new Map<string, number>();
    for (const look of same) {
      const print = await locate(look.file).then(
        (path) => contentPrint(path, size),
        () => undefined,
      );
      if (print === undefined) continue;
      const earlier = first.get(print);
      if (earlier === undefined) first.set(print, look.frame);
      else repeats.push([look.frame, earlier]);
    }
  }
  if (repeats.length && (await standsStill(looks, locate))) return [];
  return repeats.sort(([a], [b]) => a - b);
}

/**
 * Whether most frames end alike: then the pass stands still (the depth of a fixed camera), and those with the same bytes differ from the
 * others in their headers' dates only.
 */
async function standsStill(
  looks: readonly FrameFileSize[],
  locate: (file: string) => Promise<string>,
): Promise<boolean> {
  const ends = new Map<string, number>();
  for (const { file, bytes } of looks) {
    const end = await locate(file)
      .then((path) => endOf(path, bytes))
      .catch(() => file);
    ends.set(end, (ends.get(end) ?? 0) + 1);
  }
  return Math.max(...ends.values()) * 2 > looks.length;
}

/** The last bytes of a file: pixels, whatever its header says. */
async function endOf(path: string, size: number): Promise<string> {
  const handle = await open(path, 'r');
  try {
    const buffer = Buffer.alloc(Math.min(block, Math.floor(size / 2)));
    await handle.read(buffer, 0, buffer.length, size - buffer.length);
    return createHash('sha1').update(buffer).digest('base64');
  } finally {
    await handle.close();
  }
}
