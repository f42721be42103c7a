import { ap0, ap1, luminanceWeights, rec2020, rec709, toXyz, type Primaries } from '../colour/primaries.ts';
import { insideLocus } from '../colour/locus.ts';
import type { Plane } from '../exr/plane.ts';
import { halfToNumber } from '../image/half.ts';
import { dataRoles, pictureChannels, type Pass } from '../sequence/passes.ts';
import { judgeDepth, type DepthVerdict } from './depth.ts';
import { alphaVerdict, alphaVotes } from './premultiplication.ts';
import { channelStatistics, type ChannelStatistics } from './statistics.ts';

/** What the pixels of one pass of one frame are like. Plain data. */
export interface PassMeasures {
  readonly pass: string;
  readonly channels: readonly {
    readonly component: string;
    readonly type: string;
    readonly statistics: ChannelStatistics;
  }[];
}

/** What the pixels of one frame of a source are like. */
export interface FrameMeasures {
  readonly frame: number;
  readonly passes: readonly PassMeasures[];
  readonly depth: { readonly pass: string; readonly verdict: DepthVerdict } | undefined;
  readonly alpha: 'premultiplied' | 'straight' | undefined;
  /** Share of lit pixels whose colour no eye can see, were the numbers linear in the space. */
  readonly imaginary: Readonly<Record<string, number>>;
  /** The picture's numbers at a coarse grid of its pixels, R, G, B after each other: to recognise the same picture elsewhere. */
  readonly print: readonly number[];
}

/** Pixels of the grid of a print, across and down. */
export const printGrid = [16, 9] as const;

export interface FramePlanes {
  readonly width: number;
  readonly height: number;
  readonly planes: Readonly<Record<string, Plane>>;
}

let halfTable: Float32Array | undefined;

/** A plane's numbers; halves by a table of all of them. */
function toFloats(plane: Plane): Float32Array {
  if (!(plane instanceof Uint16Array)) return new Float32Array(plane);
  halfTable ??= Float32Array.from({ length: 65536 }, (_, h) => halfToNumber(h));
  const floats = new Float32Array(plane.length);
  for (let i = 0; i < plane.length; i++) floats[i] = halfTable[plane[i]!]!;
  return floats;
}

/**
 * Measures a frame pass by pass. `read` gives a pass's channels by name over one window, the same for all passes that are compared;
 * a pass that rejects is left out.
 */
export async function measureFrame(
  frame: number,
  passes: readonly Pass[],
  read: (pass: Pass) => Promise<FramePlanes>,
): Promise<FrameMeasures> {
  const measured: PassMeasures[] = [];
  const kept = new Map<Pass, FramePlanes>();
  const wanted = new Set<Pass | undefined>([
    colourPass(passes),
    ...(['depth', 'position', 'volume', 'alpha'] as const).map((role) => passes.find((p) => p.role === role)),
  ]);
  for (const pass of passes) {
    // Any bits are legal in IDs: there is nothing to look for.
    if (pass.role === 'id-matte') continue;
    const planes = await read(pass).catch(() => undefined);
    // A frame may lack channels that the others have; that is said elsewhere.
    if (!planes || pass.channels.some((c) => !planes.planes[c.name])) continue;
    measured.push({
      pass: pass.name,
      channels: pass.channels.map(({ component, name, type }) => ({
        component,
        type,
        statistics: channelStatistics(planes.planes[name]!),
      })),
    });
    if (wanted.has(pass)) kept.set(pass, planes);
  }
  return { frame, passes: measured, ...compare(kept) };
}

/** The pass that stands for the picture: the beauty, else the first that holds colour. */
export function colourPass(passes: readonly Pass[]): Pass | undefined {
  const lit = passes.filter((p) => !dataRoles.has(p.role) && p.role !== 'alpha');
  return lit.find((p) => p.role === 'beauty') ?? lit[0];
}

function compare(kept: ReadonlyMap<Pass, FramePlanes>): Pick<FrameMeasures, 'depth' | 'alpha' | 'imaginary' | 'print'> {
  const of = (role: Pass['role']) => [...kept.keys()].find((p) => p.role === role);
  const beauty = colourPass([...kept.keys()].filter((p) => p.role !== 'volume')) ?? of('volume');
  if (!beauty) return { depth: undefined, alpha: undefined, imaginary: {}, print: [] };
  const picture = kept.get(beauty)!;
  const { width, height } = picture;
  const same = (pass: Pass | undefined) => {
    const planes = pass && kept.get(pass);
    return planes && planes.width === width && planes.height === height ? { pass, planes: planes.planes } : undefined;
  };
  const names = pictureChannels(beauty);
  const colour = names.colour.map((c) => toFloats(picture.planes[c]!)) as [Float32Array, Float32Array, Float32Array];
  const own = same(of('alpha'));
  const alphaPlane = names.alpha ? picture.planes[names.alpha] : own && Object.values(own.planes)[0];
  const alpha = alphaPlane && toFloats(alphaPlane);
  const depth = same(of('depth'));
  const position = same(of('position'));
  const haze = same(of('volume'));
  const three = (p: NonNullable<typeof position>) =>
    pictureChannels(p.pass).colour.map((c) => toFloats(p.planes[c]!)) as [Float32Array, Float32Array, Float32Array];
  const verdict =
    depth &&
    judgeDepth({
      width,
      height,
      depth: toFloats(depth.planes[pictureChannels(depth.pass).colour[0]]!),
      ...(position && position.pass.channels.length >= 3 ? { position: three(position) } : {}),
      ...(haze && haze.pass !== beauty ? { haze: luminanceOf(three(haze)) } : {}),
      ...(alpha ? { alpha } : {}),
    });
  return {
    depth: verdict && { pass: depth.pass.name, verdict },
    alpha:
      alpha && names.colour[0] !== names.colour[1] ? alphaVerdict(alphaVotes(colour, alpha, width, height)) : undefined,
    imaginary: names.colour[0] !== names.colour[1] ? imaginaryShares(colour) : {},
    print: printOf(colour, width, height),
  };
}

function printOf(colour: readonly Float32Array[], width: number, height: number): number[] {
  const [across, down] = printGrid;
  const print: number[] = [];
  for (let j = 0; j < down; j++) {
    for (let i = 0; i < across; i++) {
      const at = Math.floor(((j + 0.5) * height) / down) * width + Math.floor(((i + 0.5) * width) / across);
      // Five digits are more than any comparison of 8-bit codes needs.
      for (const plane of colour) print.push(Number.isFinite(plane[at]!) ? Number(plane[at]!.toPrecision(5)) : 0);
    }
  }
  return print;
}

function luminanceOf([r, g, b]: readonly [Float32Array, Float32Array, Float32Array]): Float32Array {
  const [wr, wg, wb] = luminanceWeights(rec709);
  return r.map((x, i) => wr * x + wg * g[i]! + wb * b[i]!);
}

/** Linear spaces that a render may be in, tried on its colours. */
const tried: Readonly<Record<string, Primaries>> = {
  'Linear Rec.709': rec709,
  ACEScg: ap1,
  'ACES2065-1': ap0,
  'Linear Rec.2020': rec2020,
};

function imaginaryShares([r, g, b]: readonly [Float32Array, Float32Array, Float32Array]): Record<string, number> {
  const stride = Math.max(1, Math.floor(r.length / 5000));
  return Object.fromEntries(
    Object.entries(tried).map(([space, primaries]) => {
      const m = toXyz(primaries);
      let [lit, outside] = [0, 0];
      for (let i = 0; i < r.length; i += stride) {
        const [x, y, z] = [r[i]!, g[i]!, b[i]!];
        if (!(x + y + z > 0.05) || !(x + y + z < 1e4)) continue;
        const X = m[0] * x + m[1] * y + m[2] * z;
        const Y = m[3] * x + m[4] * y + m[5] * z;
        const sum = X + Y + m[6] * x + m[7] * y + m[8] * z;
        lit++;
        if (!insideLocus(X / sum, Y / sum)) outside++;
      }
      return [space, lit ? outside / lit : 0];
    }),
  );
}
