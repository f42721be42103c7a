import { ExrError } from './types.ts';

/** Bytes that one part's planes may take: an 8192 x 4320 frame of 80 half channels. What claims more is damaged, or too large to be shown. */
const most = 6 * 2 ** 30;
/** Samples of one plane. */
const mostSamples = 2 ** 30;

/** Refuses a part whose planes would take more memory than there is to give, before any of it is taken. Bytes a pixel over all channels. */
export function requireRoom(file: string, width: number, height: number, bytesPerPixel: number): void {
  const samples = width * height;
  if (samples > mostSamples || samples * bytesPerPixel > most)
    throw new ExrError(
      file,
      `${width}×${height} with ${bytesPerPixel} bytes a pixel is more than can be decoded at once.`,
    );
}
