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

/** As much of a file's end as tells most frames apart. */
const endBytes = 4096;
/** Files looked at beside each other: opening one waits more than it works. */
const beside = 8;

/**
 * Frames that hold the same bytes as an earlier one. Only files of equal size are opened, and of those that end alike a block at eight places is
 * compared, the last ends the file.
 */
export async function findRepeats(
  looks: readonly FrameFileSize[],
  locate: (file: string) => Promise<string>,
): Promise<(readonly [number, number])[]> {
  const alike = await alikeBy(
    await alikeBy([looks], ({ bytes }) => Promise.resolve(String(bytes))),
    async ({ file, bytes }) => endOf(await locate(file), bytes, endBytes),
  );
  const repeats: (readonly [number, number])[] = [];
  for (const same of await alikeBy(alike, async ({ file, bytes }) => contentPrint(await locate(file), bytes)))
    for (const { frame } of same.slice(1)) repeats.push([frame, same[0]!.frame]);
  if (repeats.length && (await standsStill(looks, locate))) return [];
  return repeats.sort(([a], [b]) => a - b);
}

/** Those of each group that are alike by what is told of them, in their order; who is alone, or cannot be read, is left out. */
async function alikeBy(
  groups: readonly (readonly FrameFileSize[])[],
  tell: (look: FrameFileSize) => Promise<string | undefined>,
): Promise<FrameFileSize[][]> {
  const alike: FrameFileSize[][] = [];
  for (const group of groups) {
    const told = new Map<string, FrameFileSize[]>();
    for (let at = 0; at < group.length; at += beside) {
      const some = group.slice(at, at + beside);
      const words = await Promise.all(some.map((look) => tell(look).catch(() => undefined)));
      some.forEach((look, i) => {
        const word = words[i];
        if (word === undefined) return;
        const same = told.get(word);
        if (same) same.push(look);
        else told.set(word, [look]);
      });
    }
    alike.push(...[...told.values()].filter((same) => same.length > 1));
  }
  return alike;
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
      .then((path) => endOf(path, bytes, block))
      .catch(() => file);
    ends.set(end, (ends.get(end) ?? 0) + 1);
  }
  return Math.max(...ends.values()) * 2 > looks.length;
}

/** The last bytes of a file: pixels, whatever its header says. */
async function endOf(path: string, size: number, most: number): Promise<string> {
  const handle = await open(path, 'r');
  try {
    const buffer = Buffer.alloc(Math.min(most, Math.floor(size / 2)));
    await handle.read(buffer, 0, buffer.length, size - buffer.length);
    return createHash('sha1').update(buffer).digest('base64');
  } finally {
    await handle.close();
  }
}
