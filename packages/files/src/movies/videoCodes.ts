// The way between codes of red, green and blue and a movie's Y'CbCr, as filters of the movie library. Numbers go through "zscale", which keeps
// ITU-R BT.709-6, items 3.2 to 3.5 and 5.6; the library's usual "scale" makes legal white 236 of 8 bits and 943 of 10, and reads
// 235, and 255 of red, green and blue, as 0.996.

/** Matrices by ITU-T H.273's names that are read and written. */
export type VideoMatrix = 'bt709' | 'smpte170m' | 'bt2020nc';

/** Whether samples of a pixel format are Y'CbCr; the others are red, green and blue, or one grey. */
export const isVideo = (pixelFormat: string): boolean =>
  /^(yuv|yuyv|yvyu|uyvy|uyyv|nv|p[024]|ayuv|y2|v30|xv|vuy)/.test(pixelFormat);

/** What a movie's samples are. */
interface VideoSamples {
  readonly pixelFormat: string;
  readonly bits: number;
  readonly width: number;
  readonly height: number;
  readonly alpha: boolean;
  readonly matrix: VideoMatrix;
}

/** Whether half as many samples of colour as of light would be a broken number of them, which "zscale" refuses. */
const isOdd = ({ pixelFormat, width, height }: VideoSamples): boolean =>
  !/444/.test(pixelFormat) && (width % 2 > 0 || height % 2 > 0);

/** Another number of colour samples, light as it is. */
const resampled = (range: 'tv' | 'pc') =>
  `scale=in_range=${range}:out_range=${range}:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic+bitexact`;
/** Samples alike, with colour at every pixel. */
const everyPixel = ({ bits, alpha }: VideoSamples) => `format=yuv${alpha ? 'a' : ''}444p${bits > 8 ? `${bits}le` : ''}`;

const planes = ({ alpha }: VideoSamples) => `format=gbr${alpha ? 'a' : ''}p16le`;

/** Filters from Y'CbCr to planes of 16 bits, full range. Alpha is widened by a shift, so that the greatest code is below the greatest of 16 bits. */
export function fromVideo(from: VideoSamples & { readonly range: 'full' | 'legal' }): string[] {
  const range = from.range === 'legal' ? 'limited' : 'full';
  return [
    ...(isOdd(from) ? [resampled(from.range === 'legal' ? 'tv' : 'pc'), everyPixel(from)] : []),
    `zscale=matrixin=${from.matrix}:rangein=${range}:matrix=gbr:range=full:filter=bicubic:dither=none`,
    planes(from),
  ];
}

/** Filters from red, green and blue, or one grey, of any depth to planes of 16 bits: the greatest code is the greatest. */
export function fromColours(alpha: boolean): string[] {
  const name = alpha ? 'gbrap' : 'gbrp';
  const depths = alpha ? ['', '10le', '12le', '16le'] : ['', '9le', '10le', '12le', '14le', '16le'];
  return [
    `format=${depths.map((depth) => name + depth).join('|')}`,
    'zscale=matrixin=gbr:rangein=full:matrix=gbr:range=full:dither=none',
    `format=${name}16le`,
  ];
}

/**
 * Filters from interleaved samples of 16 bits to Y'CbCr of legal range, rounded to the nearest. Colour is halved by the mean of its neighbours: a
 * sharper filter rings at edges of saturated colours, where codes are clipped then.
 */
export function toVideo(to: VideoSamples): string[] {
  const most = 2 ** to.bits - 1;
  return [
    // Alpha is narrowed by a shift, which this makes the rounding of its share of the greatest code.
    ...(to.alpha ? ['format=rgba64le', `lutrgb=a=val*${most}/${most + 1}`] : []),
    planes(to),
    `zscale=matrixin=gbr:rangein=full:matrix=${to.matrix}:range=limited:filter=bilinear:dither=none`,
    ...(isOdd(to) ? [everyPixel(to), resampled('tv')] : []),
    `format=${to.pixelFormat}`,
  ];
}
