import type { JpegCoding } from '../formats/jpeg.ts';

/** Three planes, row by row, one float a pixel. */
export type ThreePlanes = readonly [Float32Array, Float32Array, Float32Array];

/** Linear light of a rendered frame, premultiplied, in whatever space its numbers are. */
export interface LightPicture {
  readonly width: number;
  readonly height: number;
  readonly planes: ThreePlanes;
  /** Its alpha, where it has one. */
  readonly alpha?: Float32Array | undefined;
}

/** A picture that was saved with its view in it: codes 0 … 1 as the file has them. */
export interface CodePicture {
  readonly width: number;
  readonly height: number;
  readonly planes: ThreePlanes;
  /** How it was coded, where that changed its codes. */
  readonly jpeg?: JpegCoding | undefined;
}

/** The part of a picture that begins at a pixel. */
export function cropped<P extends LightPicture | CodePicture>(
  picture: P,
  left: number,
  top: number,
  width: number,
  height: number,
): P {
  if (left === 0 && top === 0 && width === picture.width && height === picture.height) return picture;
  return withPlanes({ ...picture, width, height }, (plane) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const from = (top + y) * picture.width + left;
      out.set(plane.subarray(from, from + width), y * width);
    }
    return out;
  });
}

/** A picture whose planes, alpha as well, are made anew. */
function withPlanes<P extends LightPicture | CodePicture>(picture: P, make: (plane: Float32Array) => Float32Array): P {
  const alpha = 'alpha' in picture && picture.alpha ? { alpha: make(picture.alpha) } : {};
  return { ...picture, planes: picture.planes.map(make) as unknown as ThreePlanes, ...alpha };
}

/** A picture `times` smaller both ways: the mean of each square of pixels. Rows and columns that do not fill a square fall away. */
export function averaged<P extends LightPicture | CodePicture>(picture: P, times: number): P {
  if (times === 1) return picture;
  const [width, height] = [Math.floor(picture.width / times), Math.floor(picture.height / times)];
  return withPlanes({ ...picture, width, height }, (plane) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let dy = 0; dy < times; dy++)
          for (let dx = 0; dx < times; dx++) sum += plane[(y * times + dy) * picture.width + x * times + dx]!;
        out[y * width + x] = sum / (times * times);
      }
    return out;
  });
}

/** Weights of Rec.709 luma (ITU-R BT.709-6, item 3.2), for telling bright from dark among codes. */
export const lumaWeights = [0.2126, 0.7152, 0.0722] as const;

export const lumaAt = ([r, g, b]: ThreePlanes, i: number): number =>
  lumaWeights[0] * r[i]! + lumaWeights[1] * g[i]! + lumaWeights[2] * b[i]!;

/** About so many pixels are enough to tell good guesses from bad ones. */
const enoughPixels = 60_000;
/** Rows that stay together, so that a JPEG's blocks stay whole. */
const bandOfRows = 16;

/** Some bands of rows of a picture and the same of its frame, which is `times` larger both ways. */
export function thinned(
  light: LightPicture,
  picture: CodePicture,
  times: number,
): { light: LightPicture; picture: CodePicture } {
  const every = Math.floor((picture.width * picture.height) / enoughPixels);
  if (every <= 1) return { light, picture };
  const bands: number[] = [];
  for (let top = 0; top + bandOfRows <= picture.height; top += bandOfRows * every) bands.push(top);
  const taken = <P extends LightPicture | CodePicture>(of: P, scale: number): P => {
    const rows = bandOfRows * scale;
    return withPlanes({ ...of, height: rows * bands.length }, (plane) => {
      const out = new Float32Array(of.width * rows * bands.length);
      bands.forEach((top, i) =>
        out.set(plane.subarray(top * scale * of.width, (top * scale + rows) * of.width), i * rows * of.width),
      );
      return out;
    });
  };
  return { light: taken(light, times), picture: taken(picture, 1) };
}
