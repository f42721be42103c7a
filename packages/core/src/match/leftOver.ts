import { lumaWeights } from './pictures.ts';

/** What lies between a picture and what a row makes of the frame, the picture less the other, in codes. */
export interface LeftOver {
  /** By brightness of what was made, sixteen bands from black to white: the mean difference and the share of all pixels. */
  readonly bands: readonly { readonly mean: readonly [number, number, number]; readonly share: number }[];
  /** By place, eight by six fields: the mean difference of the three channels. */
  readonly fields: readonly number[];
  /** By how saturated what was made is, from greys to pure colours: the mean size of the difference over channels, and the share of all pixels. */
  readonly saturations: readonly { readonly mean: number; readonly share: number }[];
  /** It follows brightness or place: no chance, no rounding. */
  readonly patterned: boolean;
  /** Most of it lies in a few fields and little elsewhere: a glow, a note, another frame rather than colour. */
  readonly local: boolean;
  readonly words: string;
}

const bandCount = 16;
/** How far the least channel lies below the greatest, beside it: where greys, pale, strong and pure colours part. */
const saturationSteps = [0.1, 0.35, 0.7] as const;
export const saturationNames = ['greys', 'pale', 'strong', 'pure'] as const;
/** Codes darker than this have no saturation to speak of. */
const darkest = 16;
export const [fieldsAcross, fieldsDown] = [8, 6] as const;
/** A band or field whose mean lies farther off than this, in codes, is no rounding. */
const [offBand, offField] = [0.75, 1.5];
/** Bands with a smaller share say nothing. */
const leastShare = 0.003;

/** Means of the differences between two RGBA8 pictures of one size, by brightness and by place. */
export function leftOver(
  made: Uint8ClampedArray,
  codes: Uint8ClampedArray,
  { width, height }: { width: number; height: number },
): LeftOver {
  const bands = Array.from({ length: bandCount }, () => ({ sums: [0, 0, 0], count: 0 }));
  const fields = Array.from({ length: fieldsAcross * fieldsDown }, () => ({ sum: 0, count: 0 }));
  const saturations = saturationNames.map(() => ({ sum: 0, count: 0 }));
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor((y * fieldsDown) / height) * fieldsAcross;
    for (let x = 0; x < width; x++, i += 4) {
      const luma = lumaWeights[0] * made[i]! + lumaWeights[1] * made[i + 1]! + lumaWeights[2] * made[i + 2]!;
      const band = bands[Math.min(bandCount - 1, luma >> 4)]!;
      const field = fields[row + Math.floor((x * fieldsAcross) / width)]!;
      const saturation = saturations[saturationOf(made[i]!, made[i + 1]!, made[i + 2]!)]!;
      saturation.count++;
      band.count++;
      field.count++;
      for (let c = 0; c < 3; c++) {
        const d = codes[i + c]! - made[i + c]!;
        band.sums[c]! += d;
        field.sum += d / 3;
        saturation.sum += Math.abs(d) / 3;
      }
    }
  }
  const all = Math.max(1, width * height);
  const told = bands.map(({ sums, count }) => ({
    mean: sums.map((s) => s / Math.max(1, count)) as unknown as [number, number, number],
    share: count / all,
  }));
  const means = fields.map(({ sum, count }) => sum / Math.max(1, count));
  const bySaturation = saturations.map(({ sum, count }) => ({ mean: sum / Math.max(1, count), share: count / all }));
  return { bands: told, fields: means, saturations: bySaturation, ...patternOf(told, means) };
}

function saturationOf(r: number, g: number, b: number): number {
  const most = Math.max(r, g, b);
  const saturation = most < darkest ? 0 : (most - Math.min(r, g, b)) / most;
  let step = 0;
  while (step < saturationSteps.length && saturation >= saturationSteps[step]!) step++;
  return step;
}

function patternOf(
  bands: LeftOver['bands'],
  fields: readonly number[],
): Pick<LeftOver, 'patterned' | 'local' | 'words'> {
  const off = bands.flatMap(({ mean, share }, i) =>
    share >= leastShare && mean.some((m) => Math.abs(m) > offBand) ? [{ i, mean }] : [],
  );
  const far = fields.filter((f) => Math.abs(f) > offField).length;
  const calm = fields.filter((f) => Math.abs(f) < offField / 2).length;
  const local = far > 0 && far <= fields.length / 4 && calm >= fields.length / 2;
  if (!off.length && !far)
    return { patterned: false, local: false, words: 'What is left over follows neither brightness nor place.' };
  if (local)
    return {
      patterned: true,
      local,
      words: `the difference lies in ${far} of ${fields.length} fields of the picture and not elsewhere: a glow, a note, another state of the render, not colour.`,
    };
  const worst = off.reduce(
    (a, b) => (Math.max(...b.mean.map(Math.abs)) > Math.max(...a.mean.map(Math.abs)) ? b : a),
    off[0] ?? { i: 0, mean: [0, 0, 0] as const },
  );
  const largest = worst.mean.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a));
  return {
    patterned: true,
    local,
    words: `a curve is left over, largest around code ${worst.i * 16 + 8}, where the picture is ${Math.abs(largest).toFixed(1)} codes ${largest > 0 ? 'lighter' : 'darker'}.`,
  };
}
