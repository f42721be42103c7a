import { averaged, cropped, lumaAt, type CodePicture, type LightPicture } from './pictures.ts';

/** How a picture lies on the frame that it was made of. */
export interface Registration {
  /** The picture's size beside the frame's: 1 for the same, 0.5 for half of it. */
  readonly scale: number;
  /** Where the picture's first pixel lies in the frame so scaled: right and down, in whole pixels. */
  readonly shift: readonly [x: number, y: number];
  /** What was averaged where the picture is smaller: light before the view, or the codes after it; null where nothing was. */
  readonly averaging: 'linear' | 'display' | null;
}

/** The parts of both that show the same. With `averageAfter` the frame is so many times larger than the picture still: its codes are averaged. */
export interface Registered {
  readonly registration: Registration;
  readonly light: LightPicture;
  readonly picture: CodePicture;
  readonly averageAfter: number;
  /** 0 … 1: how far both agree about where it grows lighter and darker. About 0.5 means that they show different things. */
  readonly agreement: number;
}

/** Pictures of other sizes whose frame cannot be told by whole pixels. */
export class RegistrationError extends Error {}

const farthest = 16;
const timesTried = [1, 2, 3, 4] as const;
/** Edges looked at, the strongest of the picture. */
const edgesTaken = 1500;
/** So far both agree where they show the same. */
const sure = 0.85;
const around = [-1, 0, 1].flatMap((y) => [-1, 0, 1].flatMap((x) => (x || y ? [[x, y] as const] : [])));
/** Light changes by less than this share where nothing is to be seen. */
const leastChange = 0.002;

/**
 * Finds how a picture lies on a frame: the same size or a whole number of times smaller, shifted by whole pixels. What light was averaged is
 * tried both ways by who ranks (`averageAfter`). Throws a RegistrationError for sizes of which none fits.
 */
export function register(light: LightPicture, picture: CodePicture): Registered {
  const times = timesTried.find(
    (t) =>
      Math.abs(light.width / t - picture.width) <= (t > 1 ? 1 : farthest) &&
      Math.abs(light.height / t - picture.height) <= (t > 1 ? 1 : farthest),
  );
  if (times === undefined)
    throw new RegistrationError(
      `The reference is ${picture.width}×${picture.height} and the frame ${light.width}×${light.height}: neither the same size nor a whole number of times smaller. Save the reference at the size of the render.`,
    );
  const small = averaged(light, times);
  const { shift, agreement } = bestShift(small, picture);
  const [left, top] = [Math.max(0, shift[0]), Math.max(0, shift[1])];
  const [pictureLeft, pictureTop] = [Math.max(0, -shift[0]), Math.max(0, -shift[1])];
  const width = Math.min(small.width - left, picture.width - pictureLeft);
  const height = Math.min(small.height - top, picture.height - pictureTop);
  return {
    registration: { scale: 1 / times, shift, averaging: times > 1 ? 'linear' : null },
    light: cropped(small, left, top, width, height),
    picture: cropped(picture, pictureLeft, pictureTop, width, height),
    averageAfter: 1,
    agreement,
  };
}

/** The same with the codes averaged in place of light; undefined where nothing is averaged. */
export function averagedAfter(light: LightPicture, of: Registered): Registered | undefined {
  const times = Math.round(1 / of.registration.scale);
  if (times === 1) return undefined;
  const [left, top] = of.registration.shift.map((s) => Math.max(0, s) * times) as [number, number];
  return {
    ...of,
    registration: { ...of.registration, averaging: 'display' },
    light: cropped(light, left, top, of.picture.width * times, of.picture.height * times),
    averageAfter: times,
  };
}

/** The shift at which both grow lighter and darker at the same places: whatever the view is, it keeps the order of light. */
function bestShift(light: LightPicture, picture: CodePicture): { shift: readonly [number, number]; agreement: number } {
  const luma = Float32Array.from({ length: picture.width * picture.height }, (_, i) => lumaAt(picture.planes, i));
  const lightLuma = Float32Array.from({ length: light.width * light.height }, (_, i) => lumaAt(light.planes, i));
  const edges = strongestEdges(luma, picture.width, picture.height);
  const at = (x: number, y: number) => agreementAt(edges, lightLuma, light, picture.width, x, y);
  // Most pictures lie where they should: then nothing farther off is looked at.
  const here = at(0, 0);
  if (here >= sure && around.every(([x, y]) => at(x, y) < here)) return { shift: [0, 0], agreement: here };
  let best = { shift: [0, 0] as readonly [number, number], agreement: -1 };
  for (let y = -farthest; y <= farthest; y++)
    for (let x = -farthest; x <= farthest; x++) {
      const agreement = at(x, y);
      // Of equal ones the nearest: a flat picture lies where it lies.
      const nearer = Math.hypot(x, y) < Math.hypot(...best.shift);
      if (agreement > best.agreement + 1e-9 || (agreement > best.agreement - 1e-9 && nearer))
        best = { shift: [x, y], agreement };
    }
  return best;
}

interface Edge {
  readonly at: number;
  /** From the pixel before to the one after: 1 across, the width down. */
  readonly down: boolean;
  readonly sign: number;
}

function strongestEdges(luma: Float32Array, width: number, height: number): Edge[] {
  const found: (Edge & { strength: number })[] = [];
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / 100_000)));
  const margin = Math.min(farthest + 1, Math.floor(Math.min(width, height) / 4));
  for (let y = margin; y < height - margin; y += step)
    for (let x = margin; x < width - margin; x += step) {
      const at = y * width + x;
      for (const down of [false, true]) {
        const off = down ? width : 1;
        const change = luma[at + off]! - luma[at - off]!;
        if (Math.abs(change) > 2 / 255) found.push({ at, down, sign: Math.sign(change), strength: Math.abs(change) });
      }
    }
  return found.sort((a, b) => b.strength - a.strength).slice(0, edgesTaken);
}

function agreementAt(
  edges: readonly Edge[],
  luma: Float32Array,
  { width, height }: LightPicture,
  pictureWidth: number,
  shiftX: number,
  shiftY: number,
): number {
  let agreeing = 0;
  for (const { at, down, sign } of edges) {
    const [x, y] = [(at % pictureWidth) + shiftX, Math.floor(at / pictureWidth) + shiftY];
    if (x < 1 || y < 1 || x >= width - 1 || y >= height - 1) continue;
    const own = y * width + x;
    const off = down ? width : 1;
    const [before, after] = [luma[own - off]!, luma[own + off]!];
    const change = (after - before) / (Math.abs(after) + Math.abs(before) + 1e-6);
    if (Math.abs(change) > leastChange && Math.sign(change) === sign) agreeing += 1;
  }
  return edges.length ? agreeing / edges.length : 1;
}
