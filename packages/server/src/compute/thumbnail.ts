import {
  dataRoles,
  halfToNumber,
  halvePlane,
  mergeSteps,
  pictureChannels,
  sideAtLevel,
  type AlphaKind,
  type ColourStep,
  type Pass,
  type Plane,
} from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import sharp from 'sharp';
import { colourOf, type ColourPlace } from '../library/store.ts';
import type { DecodedPart } from './decodedPart.ts';
import { show, type Showing } from './show.ts';

export interface ThumbnailTask {
  /** The pass's part, decoded. */
  readonly decoded: DecodedPart;
  readonly pass: Pass;
  readonly space: string;
  /** How its colour relates to its alpha. */
  readonly alpha: AlphaKind;
  readonly viewing: Viewing;
  readonly workingSpace: string;
  /** Shows the numbers as display codes, as a reference is. */
  readonly untouched: boolean;
  readonly colour: ColourPlace;
  /** The config whose view it is seen through, where that is another than the shot's. */
  readonly seenBy?: ColourPlace | undefined;
  readonly width: number;
}

/** A small PNG of one pass: colour through the viewing, data stretched between its own ends. */
export async function thumbnail(task: ThumbnailTask): Promise<Buffer> {
  const data = dataRoles.has(task.pass.role);
  const { colour: channels, alpha } = pictureChannels(task.pass);
  const heeded = alpha !== undefined && task.alpha !== 'none' && !data && !task.untouched ? task.alpha : undefined;
  let planes = [...channels, ...(heeded ? [alpha!] : [])].map((c) => task.decoded.planes[c] as unknown as Plane);
  let { width, height } = task.decoded;
  for (; sideAtLevel(width, 1) >= task.width; width = sideAtLevel(width, 1), height = sideAtLevel(height, 1)) {
    planes = planes.map((p) => halvePlane(p, width, height, data));
  }
  const colour = colourOf(task.colour);
  const stages: Showing[] =
    data || task.untouched
      ? []
      : [
          { steps: colour.conversion(task.space, task.workingSpace), ...(heeded ? { alpha: heeded } : {}) },
          { steps: viewOf(task) },
        ];
  const rgba = show(data ? stretch(planes, task.pass) : planes, stages);
  return sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .resize({ width: task.width })
    .png({ compressionLevel: 3 })
    .toBuffer();
}

/** Steps from the working space through the viewing; those of another config begin at ACES2065-1, by which configs meet. */
function viewOf({ colour: place, seenBy, workingSpace, viewing }: ThumbnailTask): ColourStep[] {
  const colour = colourOf(place);
  if (!seenBy) return colour.view(workingSpace, viewing);
  const middle = 'ACES2065-1';
  return mergeSteps([...colour.conversion(workingSpace, middle), ...colourOf(seenBy).view(middle, viewing)]);
}

/** Normalises data for the eye: normals by half and offset, IDs by hash to grey, the rest between its finite ends. */
function stretch(planes: readonly Plane[], pass: Pass): Plane[] {
  const floats = planes.map((p) =>
    p instanceof Uint16Array ? Float32Array.from(p, halfToNumber) : Float32Array.from(p),
  );
  if (pass.role === 'normal') return floats.map((p) => p.map((x) => 0.5 + 0.5 * x));
  if (pass.role === 'id-matte')
    return floats.map((p) => p.map((x) => (x === 0 ? 0 : 0.2 + (Math.abs(Math.log2(Math.abs(x) + 1e-30)) % 1) * 0.7)));
  return floats.map((p) => {
    let [low, high] = [Infinity, -Infinity];
    for (const x of p) {
      // 1e10 and the like stand for the sky.
      if (Math.abs(x) < 1e6) [low, high] = [Math.min(low, x), Math.max(high, x)];
    }
    return p.map((x) => (x > high ? 1 : (x - low) / (high - low || 1)));
  });
}
