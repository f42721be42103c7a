import type { JpegCoding, JpegComponent } from '../formats/jpeg.ts';

interface Samples {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array;
}

/** Rows of the cosine transform of eight samples: ITU-T T.81, A.3.3. */
const cosines = Float32Array.from({ length: 64 }, (_, i) => {
  const [u, x] = [i >> 3, i & 7];
  return (u === 0 ? Math.SQRT1_2 : 1) * 0.5 * Math.cos(((2 * x + 1) * u * Math.PI) / 16);
});

/**
 * An RGBA8 picture (alpha is passed over) as it comes out of a JPEG of some coding: colour differences halved where they are, cosine
 * coefficients rounded to the file's own tables, and back (ITU-T T.81; conversion of JFIF 1.02, page 3). So the coding's error is known
 * and is not blamed on colour. Decoders differ by a code in how they round and widen colour differences.
 */
export function codedAsJpeg(
  rgba: Uint8ClampedArray,
  width: number,
  height: number,
  coding: JpegCoding,
): Uint8ClampedArray {
  const { components, yCbCr } = coding;
  const most = (of: (c: JpegComponent) => number) => Math.max(...components.map(of));
  const [mostAcross, mostDown] = [most((c) => c.across), most((c) => c.down)];
  const planes = toComponents(rgba, width * height, coding).map((values, c): Float32Array => {
    const { across, down, table } = components[c]!;
    const [timesX, timesY] = [Math.round(mostAcross / across), Math.round(mostDown / down)];
    const small = reduced({ width, height, values }, timesX, timesY);
    return widened(rounded(small, table), timesX, timesY, width, height);
  });
  const out = new Uint8ClampedArray(rgba.length);
  const grey = planes.length < 3;
  for (let i = 0, p = 0; p < width * height; p++, i += 4) {
    const [y, cb, cr] = [planes[0]![p]!, grey ? 128 : planes[1]![p]!, grey ? 128 : planes[2]![p]!];
    if (yCbCr) {
      out[i] = y + 1.402 * (cr - 128);
      out[i + 1] = y - 0.344136286 * (cb - 128) - 0.714136286 * (cr - 128);
      out[i + 2] = y + 1.772 * (cb - 128);
    } else {
      out[i] = y;
      out[i + 1] = grey ? y : cb;
      out[i + 2] = grey ? y : cr;
    }
    out[i + 3] = rgba[i + 3]!;
  }
  return out;
}

function toComponents(rgba: Uint8ClampedArray, n: number, { components, yCbCr }: JpegCoding): Float32Array[] {
  const planes = Array.from({ length: Math.min(3, components.length) }, () => new Float32Array(n));
  const [first, second, third] = planes;
  for (let i = 0, p = 0; p < n; p++, i += 4) {
    const [r, g, b] = [rgba[i]!, rgba[i + 1]!, rgba[i + 2]!];
    const y = Math.round(0.299 * r + 0.587 * g + 0.114 * b);
    first![p] = yCbCr || !second ? y : r;
    if (!second || !third) continue;
    second[p] = yCbCr ? Math.round(128 - 0.168735892 * r - 0.331264108 * g + 0.5 * b) : g;
    third[p] = yCbCr ? Math.round(128 + 0.5 * r - 0.418687589 * g - 0.081312411 * b) : b;
  }
  return planes;
}

/** Means of boxes of samples; what lies beyond the edge is the edge. */
function reduced({ width, height, values }: Samples, timesX: number, timesY: number): Samples {
  if (timesX === 1 && timesY === 1) return { width, height, values };
  const [w, h] = [Math.ceil(width / timesX), Math.ceil(height / timesY)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let dy = 0; dy < timesY; dy++)
        for (let dx = 0; dx < timesX; dx++)
          sum += values[Math.min(height - 1, y * timesY + dy) * width + Math.min(width - 1, x * timesX + dx)]!;
      out[y * w + x] = Math.floor(sum / (timesX * timesY) + 0.5);
    }
  return { width: w, height: h, values: out };
}

/** Each block of eight by eight through the cosine transform, its coefficients rounded to steps, and back. */
function rounded({ width, height, values }: Samples, table: readonly number[]): Samples {
  const out = new Float32Array(width * height);
  const [block, middle] = [new Float32Array(64), new Float32Array(64)];
  for (let top = 0; top < height; top += 8)
    for (let left = 0; left < width; left += 8) {
      for (let y = 0; y < 8; y++) {
        const row = Math.min(height - 1, top + y) * width;
        for (let x = 0; x < 8; x++) block[8 * y + x] = values[row + Math.min(width - 1, left + x)]! - 128;
      }
      forward(block, middle);
      for (let i = 0; i < 64; i++) block[i] = Math.round(block[i]! / table[i]!) * table[i]!;
      backward(block, middle);
      const [endY, endX] = [Math.min(8, height - top), Math.min(8, width - left)];
      for (let y = 0; y < endY; y++)
        for (let x = 0; x < endX; x++) {
          const v = Math.round(block[8 * y + x]! + 128);
          out[(top + y) * width + left + x] = v < 0 ? 0 : v > 255 ? 255 : v;
        }
    }
  return { width, height, values: out };
}

function forward(block: Float32Array, middle: Float32Array): void {
  for (let y = 0; y < 8; y++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let x = 0; x < 8; x++) sum += cosines[8 * u + x]! * block[8 * y + x]!;
      middle[8 * y + u] = sum;
    }
  for (let u = 0; u < 8; u++)
    for (let v = 0; v < 8; v++) {
      let sum = 0;
      for (let y = 0; y < 8; y++) sum += cosines[8 * v + y]! * middle[8 * y + u]!;
      block[8 * v + u] = sum;
    }
}

function backward(block: Float32Array, middle: Float32Array): void {
  for (let v = 0; v < 8; v++)
    for (let x = 0; x < 8; x++) {
      let sum = 0;
      for (let u = 0; u < 8; u++) sum += cosines[8 * u + x]! * block[8 * v + u]!;
      middle[8 * v + x] = sum;
    }
  for (let x = 0; x < 8; x++)
    for (let y = 0; y < 8; y++) {
      let sum = 0;
      for (let v = 0; v < 8; v++) sum += cosines[8 * v + y]! * middle[8 * v + x]!;
      block[8 * y + x] = sum;
    }
}

/** Samples over all pixels again; halved ones on lines between their middles, as decoders commonly do (common practice, no source). */
function widened(
  { width, height, values }: Samples,
  timesX: number,
  timesY: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  if (timesX === 1 && timesY === 1) return values;
  const out = new Float32Array(toWidth * toHeight);
  const clampX = (x: number) => Math.min(width - 1, Math.max(0, x));
  const clampY = (y: number) => Math.min(height - 1, Math.max(0, y));
  for (let y = 0; y < toHeight; y++) {
    const [y0, fy] = between(y, timesY);
    const [rowA, rowB] = [clampY(y0) * width, clampY(y0 + 1) * width];
    for (let x = 0; x < toWidth; x++) {
      const [x0, fx] = between(x, timesX);
      const [a, b] = [clampX(x0), clampX(x0 + 1)];
      const above = values[rowA + a]! * (1 - fx) + values[rowA + b]! * fx;
      const below = values[rowB + a]! * (1 - fx) + values[rowB + b]! * fx;
      out[y * toWidth + x] = Math.floor(above * (1 - fy) + below * fy + 0.5);
    }
  }
  return out;
}

/** The sample before a pixel's middle, and how far it lies towards the next. */
function between(at: number, times: number): readonly [number, number] {
  const place = (at + 0.5) / times - 0.5;
  const before = Math.floor(place);
  return [before, place - before];
}
