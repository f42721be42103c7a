import {
  alphaAttribute,
  findSpace,
  rateFraction,
  timecodeWord,
  type ExrAttribute,
  type ShotColour,
} from '@june-haze/core';

/** The EXR attribute (a string) that names the space of numbers that are not linear; see docs/exr.md. */
export const spaceAttribute = 'space';

/**
 * What an EXR says of its numbers. Linear light of known primaries gets them; numbers that are not linear name their space, so that nothing in
 * the file says linear; a linear space whose primaries are not known gets no tags rather than wrong ones.
 */
export function exrTags(
  colour: ShotColour,
  space: string,
  { rate, frame }: { readonly rate: number; readonly frame: number },
  hasAlpha: boolean,
): Record<string, ExrAttribute> {
  const timecode = timecodeWord(frame, rate);
  const linear = colour.linearTwin(space);
  const known = linear ?? (colour.config?.findSpace(space) ? undefined : findSpace(space));
  const light = linear !== undefined || (colour.knows(space) && colour.whyNotWorking(space) === undefined);
  return {
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
  };
}
