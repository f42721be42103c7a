/** A frame of a movie as it is stored: Y'CbCr. */
export interface VideoFrame {
  readonly width: number;
  readonly height: number;
  readonly bits: number;
  /** How many pixels share a sample of colour, across and down. */
  readonly shared: readonly [across: 1 | 2, down: 1 | 2];
  readonly matrix: keyof typeof lumaWeights;
  readonly range: 'full' | 'legal';
  readonly y: VideoPlane;
  readonly cb: VideoPlane;
  readonly cr: VideoPlane;
}
export type VideoPlane = Uint8Array | Uint16Array;

/** The shares of red and blue in luma: ITU-R BT.709-6, item 3.2; BT.601-7, item 2.5.1; BT.2020-2, table 4 (non-constant luminance). */
const lumaWeights = { bt709: [0.2126, 0.0722], smpte170m: [0.299, 0.114], bt2020nc: [0.2627, 0.0593] } as const;

/**
 * The codes of a frame's pixels, RGBA of 8 bits that cover: red, green and blue by ITU-R BT.709-6, items 3.2 to 3.5, of samples of legal range (item
 * 5.6: 16 to 235 and 128 ± 112, times 2^(bits − 8)) or full range (ITU-T H.273, 8.3), rounded to the nearest. Colour between its samples by straight lines; across, its samples lie on the
 * first of two pixels, down, between both (ITU-T H.273, chroma sample location type 0).
 */
export function codesOfVideo(frame: VideoFrame): Uint8Array<ArrayBuffer> {
  const { width, height, bits, y, matrix, range } = frame;
  const [kr, kb] = lumaWeights[matrix];
  const kg = 1 - kr - kb;
  const step = 2 ** (bits - 8);
  const most = 2 ** bits - 1;
  // Where black is, how far white is from it, and how far colour reaches to both sides together.
  const [black, light, colour] = range === 'legal' ? [16 * step, 219 * step, 224 * step] : [0, most, most];
  const grey = 128 * step;
  const [cb, cr] = [new Float64Array(width), new Float64Array(width)];
  // Clamped and rounded as they are stored.
  const codes = new Uint8ClampedArray(width * height * 4).fill(255);
  for (let row = 0, i = 0; row < height; row++) {
    colourRow(frame, frame.cb, row, cb);
    colourRow(frame, frame.cr, row, cr);
    for (let x = 0; x < width; x++, i++) {
      const luma = (y[i]! - black) / light;
      const red = luma + (2 * (1 - kr) * (cr[x]! - grey)) / colour;
      const blue = luma + (2 * (1 - kb) * (cb[x]! - grey)) / colour;
      codes[4 * i] = 255 * red;
      codes[4 * i + 1] = (255 * (luma - kr * red - kb * blue)) / kg;
      codes[4 * i + 2] = 255 * blue;
    }
  }
  return new Uint8Array(codes.buffer);
}

/** A plane of colour's samples at the pixels of a row. */
function colourRow(
  { width, height, shared: [across, down] }: VideoFrame,
  plane: VideoPlane,
  row: number,
  to: Float64Array,
): void {
  const [columns, rows] = [Math.ceil(width / across), Math.ceil(height / down)];
  const at = down === 1 ? row : Math.min(rows - 1, Math.max(0, (row - 0.5) / 2));
  const upper = Math.floor(at);
  const share = at - upper;
  const [a, b] = [upper * columns, Math.min(rows - 1, upper + 1) * columns];
  for (let x = 0; x < width; x++) {
    const left = across === 1 ? x : x >> 1;
    const right = across === 2 && x % 2 ? Math.min(columns - 1, left + 1) : left;
    const first = plane[a + left]! + plane[a + right]!;
    const second = plane[b + left]! + plane[b + right]!;
    to[x] = (first + share * (second - first)) / 2;
  }
}
