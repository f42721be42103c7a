import { Heap } from '../../src/kernel/heap.ts';
import { createWasmKernels } from '../../src/kernel/load.ts';
import { openBundledConfig } from '../../src/config/colourKey.ts';
import { ShotColour } from '../../src/config/shotColour.ts';
import { candidatesOf, throughSteps, type CandidateConfig } from '../../src/match/candidates.ts';
import type { MatchResult } from '../../src/match/finder.ts';
import type { MatchRow } from '../../src/match/verdict.ts';
import type { LookFile } from '../../src/operations/parameters.ts';
import type { LightPicture, ThreePlanes } from '../../src/match/pictures.ts';
import { ternConfig } from '../../../demo/src/tern/config.ts';
import { randomFrom } from '../operations/surroundings.ts';

export const heap = new Heap(createWasmKernels());
const ternFiles = new Map([...ternConfig()].map(([path, text]) => [path, new TextEncoder().encode(text)]));
/** The built-in config and the stand-in renderer's. */
export const configs: readonly CandidateConfig[] = [
  candidatesOf({ id: null, name: 'builtin', colour: new ShotColour() }, heap),
  candidatesOf({ id: 'tern', name: 'tern', colour: new ShotColour(openBundledConfig(ternFiles, 'tern')) }, heap),
];

/** What was done to a frame: the truth that the finder is held against. */
export interface Truth {
  readonly of: CandidateConfig;
  readonly space: string;
  readonly display: string;
  readonly view: string;
  readonly look: string | null;
  readonly lookFile?: LookFile | null;
  readonly exposure: number;
  readonly gamma: number;
  /** The codes that became 0 and 1; as they are when left out. */
  readonly levels?: readonly [black: number, white: number] | undefined;
  readonly mistake: MatchRow['mistake'];
}

/**
 * A frame of an invented place, linear: a sky that fades, boards with grain, painted and metal things, lanterns far above white. Colours lie
 * within ACEScg's primaries; `seed` makes another place, `move` (pixels) shows the same one a while later.
 */
export function frame(seed: number, width = 128, height = 72, move = 0): LightPicture {
  const random = randomFrom(seed);
  const blobs = Array.from({ length: 26 }, () => {
    const level = 0.18 * 2 ** (-5 + 10 * random());
    const colour = [0, 1, 2].map(() => level * (0.08 + 0.92 * random() ** 1.5));
    return { x: random() * width + move, y: random() * height, r: 4 + 10 * random(), colour };
  });
  const lanterns = Array.from({ length: 3 }, () => ({
    x: random() * width,
    y: random() * height,
    r: 4 + 4 * random(),
  }));
  const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as unknown as ThreePlanes;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const up = 1 - y / height;
      let colour =
        up > 0.5
          ? [0.3 + 0.4 * up, 0.35 + 0.5 * up, 0.4 + 0.8 * up]
          : [0.12 * up + 0.01, 0.09 * up + 0.008, 0.05 * up + 0.004];
      for (const b of blobs)
        if (Math.hypot(x - b.x, y - b.y) < b.r)
          colour = b.colour.map((c) => c * (0.4 + (0.6 * (b.y + b.r - y)) / (2 * b.r)));
      for (const l of lanterns) {
        const d = Math.hypot(x - l.x, y - l.y);
        if (d < l.r) colour = [24, 15, 6].map((c) => c * (1 - (0.7 * d) / l.r));
      }
      const grain = 1 + 0.02 * (random() - 0.5);
      colour.forEach((c, i) => (planes[i]![y * width + x] = c * grain));
    }
  return { width, height, planes };
}

/** Draws what is done to a frame: most pictures are saved as they are, some trimmed, some with a mistake. */
export function drawTruth(random: () => number): Truth {
  const of = configs[Math.floor(random() * configs.length)]!;
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
  const { display, view, look } = pick(of.views);
  const trimmed = random();
  const twentieth = (v: number) => Math.round(v * 20) / 20;
  const exposure = trimmed < 0.4 ? twentieth(4 * random() - 2) : 0;
  const gamma = trimmed > 0.3 && trimmed < 0.5 ? twentieth(0.8 + 1.2 * random()) : 1;
  const mistakes = ['encoded-twice', 'not-encoded', 'gamma-2.2', 'legal-range'] as const;
  const mistake = gamma === 1 && random() < 0.25 ? pick(mistakes) : null;
  const hundredth = (v: number) => Math.round(v * 100) / 100;
  const levels =
    gamma === 1 && exposure === 0 && !mistake && random() < 0.2
      ? ([hundredth(0.2 * random() - 0.1), hundredth(0.85 + 0.3 * random())] as const)
      : undefined;
  return { of, space: pick(of.spaces).name, display, view, look, exposure, gamma, levels, mistake };
}

/** A picture saved as it should be: ACEScg through the built-in ACES SDR view. */
export const plainTruth: Truth = {
  of: configs[0]!,
  space: 'ACEScg',
  display: 'sRGB',
  view: 'ACES SDR',
  look: null,
  exposure: 0,
  gamma: 1,
  mistake: null,
};
/** The same through the stand-in renderer's own view. */
export const hazeTruth: Truth = { ...plainTruth, of: configs[1]!, view: 'Haze' };

/** The curve of IEC 61966-2-1, clause 5.2, and its way back, with the standard's own numbers. */
const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const saves: Record<string, (v: number) => number> = {
  'encoded-twice': encode,
  'not-encoded': decode,
  'gamma-2.2': (v) => decode(v) ** (1 / 2.2),
  'legal-range': (v) => (16 + 219 * v) / 255,
};

/** The RGBA8 codes that a truth makes of a frame. */
export function saveAs(
  { of, space, display, view, look, lookFile = null, exposure, gamma, levels = [0, 1], mistake }: Truth,
  light: LightPicture,
): Uint8Array {
  const steps = of.config.colour.view(space, { display, view, look, lookFile, exposure });
  const n = light.width * light.height;
  const values = throughSteps(steps, heap, n, (i) => light.planes.map((p) => p[i]!) as [number, number, number]);
  const out = new Uint8Array(4 * n).fill(255);
  for (let i = 0; i < n; i++)
    for (let c = 0; c < 3; c++) {
      const [black, white] = levels;
      const shown = (Math.min(1, Math.max(0, values[3 * i + c]!)) - black) / (white - black);
      const v = Math.min(1, Math.max(0, shown)) ** (1 / gamma);
      out[4 * i + c] = Math.round(255 * (mistake ? saves[mistake]!(v) : v));
    }
  return out;
}

export const planesOf = (rgba: Uint8Array): ThreePlanes =>
  [0, 1, 2].map((c) =>
    Float32Array.from({ length: rgba.length / 4 }, (_, i) => rgba[4 * i + c]! / 255),
  ) as unknown as ThreePlanes;

/** Whether an answer is the truth: the best row or one that gives the same for every colour. */
export function isFound(result: MatchResult, truth: Truth): boolean {
  return [result.best!, ...result.ties].some((row) => isTruth(row, truth));
}

export function isTruth(row: MatchRow, truth: Truth): boolean {
  const { config } = truth.of;
  return (
    row.configId === config.id &&
    row.space === truth.space &&
    row.display === truth.display &&
    row.view === truth.view &&
    (row.look === truth.look || (!row.look && !truth.look)) &&
    row.lookFile?.id === truth.lookFile?.id &&
    Math.abs(row.exposure - truth.exposure) < 0.051 &&
    Math.abs(row.gamma - truth.gamma) < 0.051 &&
    Math.abs(row.black - (truth.levels?.[0] ?? 0)) < 0.011 &&
    Math.abs(row.white - (truth.levels?.[1] ?? 1)) < 0.011 &&
    row.mistake === truth.mistake
  );
}

export const wordsOf = (t: Truth | MatchRow): string =>
  [t.space, t.display, t.view, t.look, t.exposure, t.gamma, 'black' in t ? [t.black, t.white] : t.levels, t.mistake]
    .map(String)
    .join(' · ');
