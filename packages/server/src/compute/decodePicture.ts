import { FormatError, type FileFacts } from '@june-haze/core';
import { decodeFile, decodeMovieFrames, identityOfState, readFacts, stateOf, type DecodedFile } from '@june-haze/files';
import type { FrameFile } from '../intake/frameFiles.ts';
import type { DecodedPart, SharedPlane } from './decodedPart.ts';

/** Headers that this thread read last: a movie's is asked for with every frame. */
const facts = new Map<string, FileFacts>();
const mostFacts = 32;

async function factsOf(file: FrameFile): Promise<FileFacts> {
  const state = await stateOf(file.path);
  if (!state) throw new FormatError(file.name, 'the file is not there any more.');
  const key = `${file.path}/${identityOfState(state)}`;
  const found = facts.get(key) ?? (await readFacts(file.path, file.name));
  facts.set(key, found);
  if (facts.size > mostFacts) facts.delete(facts.keys().next().value!);
  return found;
}

/** Decodes a file that is no EXR, on this thread. */
export async function decodePicture(file: FrameFile): Promise<DecodedFile> {
  return decodeFile(file.path, file.name, await factsOf(file), file.movieFrame, file.range);
}

/** Decodes a picture, or `count` frames of a movie from one start of the decoder, into memory that all threads share. */
export async function decodePictureShared(task: { file: FrameFile; count: number }): Promise<DecodedPart[]> {
  const { file, count } = task;
  const decoded =
    file.kind === 'movie'
      ? await decodeMovieFrames(
          file.path,
          file.name,
          await factsOf(file),
          file.movieFrame,
          count,
          file.range ?? 'legal',
        )
      : [await decodePicture(file)];
  return decoded.map(({ width, height, planes }) => ({
    level: 0,
    width,
    height,
    size: { width, height },
    data: { x: 0, y: 0, width, height },
    planes: Object.fromEntries(Object.entries(planes).map(([name, p]) => [name, shared(p)])),
    missing: [],
  }));
}

function shared(plane: Float32Array): SharedPlane {
  const copy = new Float32Array(new SharedArrayBuffer(plane.byteLength));
  copy.set(plane);
  return copy;
}
