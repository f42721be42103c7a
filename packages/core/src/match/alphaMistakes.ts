import type { LightPicture, ThreePlanes } from './pictures.ts';

/** What may have gone wrong with alpha as a picture was saved, or with how its linear file is read. */
export const alphaMistakes = ['divided-by-alpha', 'multiplied-by-alpha'] as const;
export type AlphaMistake = (typeof alphaMistakes)[number];

/** Alpha so near to 0 or 1 tells nothing. */
const [leastPartial, mostPartial] = [0.02, 0.98];
/** At least so many pixels must be partly covered: a share of all. */
const leastShare = 5e-4;

/** Whether enough of a frame is partly covered for mistakes with alpha to be seen. */
export function isPartlyCovered({ alpha }: LightPicture): boolean {
  if (!alpha) return false;
  let partial = 0;
  for (let i = 0; i < alpha.length; i++) if (alpha[i]! > leastPartial && alpha[i]! < mostPartial) partial++;
  return partial >= leastShare * alpha.length;
}

/**
 * Light as a picture shows it that was saved with a mistake: premultiplied light divided by its alpha, so that edges are as bright as what they are
 * edges of; or multiplied once more, so that they darken. A frame that is read as premultiplied and is straight looks as if the latter had been done.
 */
export function withAlphaMistake(light: LightPicture, mistake: AlphaMistake): LightPicture {
  const { alpha, planes } = light;
  if (!alpha) return light;
  const changed = planes.map((plane) => {
    const out = new Float32Array(plane.length);
    for (let i = 0; i < plane.length; i++) {
      const a = alpha[i]!;
      out[i] = mistake === 'multiplied-by-alpha' ? plane[i]! * a : a > 0 ? plane[i]! / a : plane[i]!;
    }
    return out;
  });
  return { ...light, planes: changed as unknown as ThreePlanes };
}
