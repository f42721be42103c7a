import { asNumbered, ownFrame, type FileKind, type Pacing } from '@june-haze/core';
import type { SourceFacts, SourceReading } from '@june-haze/contract';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';

/** What must be known of a source to find its files. */
export interface SourceWithFiles {
  readonly folder: string;
  readonly pattern: string;
  readonly facts: SourceFacts;
  readonly reading: Partial<SourceReading>;
}

/** A file of a frame: where it lies, what errors call it, and how it is decoded. Plain data; travels to worker threads. */
export interface FrameFile {
  readonly path: string;
  readonly name: string;
  /** The number of the file's own part 0 within the source. */
  readonly firstPart: number;
  readonly kind: FileKind;
  /** Of a movie: which frame, from 0. */
  readonly movieFrame: number;
  readonly range: 'full' | 'legal' | null;
  /** The source's size, which a picture that is left black has. */
  readonly width: number;
  readonly height: number;
  /** The frame is not there and is to be left black. */
  readonly black: boolean;
}

/** An EXR by itself, as a file of a frame. */
export const exrFile = (path: string, name: string): FrameFile => ({
  path,
  name,
  firstPart: 0,
  kind: 'exr',
  movieFrame: 0,
  range: null,
  width: 0,
  height: 0,
  black: false,
});

/** How fast a source runs through the shot, and what it gives outside of itself. */
export const pacingOf = ({ speed, beyond }: Partial<SourceReading>): Pacing => ({
  speed: speed ?? asNumbered.speed,
  beyond: beyond ?? asNumbered.beyond,
});

/** Shot frame less the number in the file's name, at its own speed. */
export const offsetOf = (source: { facts: SourceFacts; reading: Partial<SourceReading> }): number =>
  typeof source.reading.firstFrame === 'number' ? source.reading.firstFrame - source.facts.firstFrame : 0;

/**
 * Which file of a source holds a part. Parts are counted through: a source of one file per pass is like one file of many parts.
 * `firstPart` is the number of the file's own part 0.
 */
export function fileOfPart(
  source: Pick<SourceWithFiles, 'pattern' | 'facts'>,
  part: number,
): { pattern: string; firstPart: number; still: boolean } {
  let first = 0;
  for (const file of source.facts.files ?? []) {
    if (part < first + file.parts) return { pattern: file.pattern, firstPart: first, still: file.still };
    first += file.parts;
  }
  return { pattern: source.pattern, firstPart: 0, still: source.facts.still };
}

/**
 * The file of a part at a frame of the shot. A missing or damaged frame stops with a RequestError, takes the last good one before it,
 * or is black, as the source's reading says; so it is outside of what the source lasts. A still serves every frame.
 */
export async function frameFile(
  media: MediaFolders,
  source: SourceWithFiles,
  part: number,
  shotFrame: number,
): Promise<FrameFile> {
  const { facts, reading } = source;
  const { pattern, firstPart, still } = fileOfPart(source, part);
  const movie = facts.fileKind === 'movie';
  const offset = offsetOf(source);
  const pacing = pacingOf(reading);
  const own = ownFrame(facts, facts.firstFrame + offset, pacing, shotFrame);
  const outside = !still && own === undefined;
  const frame = own ?? shotFrame - offset;
  const bad = new Set([...facts.missing, ...facts.damaged.map((d) => d.frame)]);
  const wanted = !still && !movie && reading.onFault === 'hold' && bad.has(frame) ? lastGood(frame, bad, facts) : frame;
  const blackFault = !still && !movie && reading.onFault === 'black' && bad.has(frame);
  const black = blackFault || (outside && pacing.beyond === 'nothing');
  const name = `${source.pattern}: frame ${shotFrame}`;
  if (movie && outside && !black) throw new RequestError(404, `${name} is not in the movie.`);
  const found = {
    firstPart,
    kind: facts.fileKind,
    movieFrame: movie ? frame - 1 : 0,
    range: reading.range ?? facts.range,
    width: facts.width,
    height: facts.height,
    black,
  };
  if (black) return { ...found, path: '', name };
  const path = await (
    still || movie ? media.locate(`${source.folder}/${pattern}`) : media.frameFile(source.folder, pattern, wanted)
  ).catch((error: unknown) => {
    if (error instanceof RequestError && error.status === 404)
      throw new RequestError(404, `${pattern}: frame ${shotFrame} is missing.`);
    throw error;
  });
  return { ...found, path, name: path.split('/').at(-1)! };
}

function lastGood(frame: number, bad: ReadonlySet<number>, { firstFrame, lastFrame, step }: SourceFacts): number {
  for (let f = frame; f >= firstFrame; f -= step) if (!bad.has(f)) return f;
  for (let f = frame; f <= lastFrame; f += step) if (!bad.has(f)) return f;
  return frame;
}
