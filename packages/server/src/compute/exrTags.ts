import {
  alphaAttribute,
  findSpace,
  rateFraction,
  timecodeWord,
  type ExrAttribute,
  type ShotColour,
} from '@june-haze/core';
import type { FileWords } from '@june-haze/files';

/** What an EXR says besides its numbers' meaning. */
interface ExrWords extends FileWords {
  readonly rate: number;
  /** As a count of frames. */
  readonly timecode: number;
  /** What of a source's attributes still holds. */
  readonly carried?: Record<string, ExrAttribute>;
}

/** The EXR attribute (a string) that names the space of numbers that are not linear; see docs/exr.md. */
export const spaceAttribute = 'space';

/**
 * What an EXR says of its numbers. Linear light of known primaries gets them; numbers that are not linear name their space, so that nothing in
 * the file says linear; a linear space whose primaries are not known gets no tags rather than wrong ones.
 */
export function exrTags(
  colour: ShotColour,
  space: string,
  { rate, timecode: at, owner, comments, carried = {} }: ExrWords,
  hasAlpha: boolean,
): Record<string, ExrAttribute> {
  const timecode = timecodeWord(at, rate);
  const linear = colour.linearTwin(space);
  const known = linear ?? (colour.config?.findSpace(space) ? undefined : findSpace(space));
  const light = linear !== undefined || (colour.knows(space) && colour.whyNotWorking(space) === undefined);
  return {
    ...carried,
    ...(known
      ? {
          chromaticities: { type: 'chromaticities', value: known.primaries },
          colorInteropID: { type: 'string', value: known.interopId },
        }
      : {}),
    ...(light ? {} : { [spaceAttribute]: { type: 'string', value: known?.name ?? space } }),
    // Where colour is encoded it matters: divide, decode, multiply.
    ...(!light && hasAlpha ? { [alphaAttribute]: { type: 'string', value: 'premultiplied' } } : {}),
    ...(timecode === undefined ? {} : { timeCode: { type: 'timecode', value: [timecode, 0] } }),
    framesPerSecond: { type: 'rational', value: rateFraction(rate) },
    software: { type: 'string', value: 'June Haze' },
    ...(owner ? { owner: { type: 'string', value: owner } } : {}),
    ...(comments ? { comments: { type: 'string', value: comments } } : {}),
  };
}
