import { apply3, identity3, isIdentity3, type Matrix3 } from '../colour/matrix.ts';
import { isLinearMap, mergeSteps } from '../colour/merge.ts';
import { prepareSteps } from '../colour/prepare.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { ShotColour } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';

/** A config that is searched, by the name that a person knows it by. */
export interface SearchedConfig {
  /** Null for the built-in one. */
  readonly id: string | null;
  readonly name: string;
  readonly colour: ShotColour;
}

/** A linear space that numbers may be in, by the matrix to the config's base. */
export interface CandidateSpace {
  readonly name: string;
  readonly matrix: Matrix3;
  /** Other names of the same light. */
  readonly same: readonly string[];
}

/** A view that a picture may have been saved through. */
export interface CandidateView {
  readonly display: string;
  readonly view: string;
  /** Looks in place of the view's own; "" for none, null for the view's own. */
  readonly look: string | null;
  /** From the config's base to display values, which are clamped to 0 … 1. */
  readonly steps: readonly ColourStep[];
  /** Its own spaces, where it shows numbers as they are: one stands for all whose numbers it leaves alone. */
  readonly spaces?: readonly CandidateSpace[] | undefined;
  /** Views that give the same for every colour. */
  readonly same: readonly { readonly display: string; readonly view: string; readonly look: string | null }[];
}

/** All that a config offers. */
export interface CandidateConfig {
  readonly config: SearchedConfig;
  /** The linear space that all others are brought to. */
  readonly base: string;
  readonly spaces: readonly CandidateSpace[];
  readonly views: readonly CandidateView[];
  /** What could not be tried, with its reason. */
  readonly left: readonly { readonly what: string; readonly why: string }[];
}

/** Views whose codes differ by less than this anywhere are the same: half an 8-bit code. */
const sameCodes = 0.5 / 255;
const sameMatrix = 1e-5;

/**
 * The spaces and views of a config, numerically equal ones merged. `base` is ACES2065-1 where the config can reach it, else its own first
 * linear space. Views that cannot be made (a LUT that is missing) are left out and named.
 */
export function candidatesOf(config: SearchedConfig, heap: Heap): CandidateConfig {
  const { colour } = config;
  const linear = colour.spaces().filter((s) => s.linear && !s.isData);
  const base = linear.find((s) => s.name === 'ACES2065-1')?.name ?? linear[0]?.name;
  if (base === undefined)
    return { config, base: '', spaces: [], views: [], left: [{ what: config.name, why: 'it has no linear space' }] };
  const left: { what: string; why: string }[] = [];
  const spaces: { name: string; matrix: Matrix3; same: string[] }[] = [];
  for (const { name } of linear) {
    const matrix = attempt(name, left, () => matrixOf(colour.conversion(name, base)));
    if (!matrix) continue;
    const twin = spaces.find((s) => s.matrix.every((v, i) => Math.abs(v - matrix[i]!) < sameMatrix));
    if (twin) twin.same.push(name);
    else spaces.push({ name, matrix, same: [] });
  }
  return { config, base, spaces, views: viewsOf(config, base, spaces, heap, left), left };
}

function attempt<T>(what: string, left: { what: string; why: string }[], make: () => T): T | undefined {
  try {
    return make();
  } catch (error) {
    left.push({ what, why: error instanceof Error ? error.message : String(error) });
    return undefined;
  }
}

/** The matrix of a linear conversion; undefined where it has an offset or bends. */
function matrixOf(steps: readonly ColourStep[]): Matrix3 | undefined {
  if (!isLinearMap(steps)) return undefined;
  const [first] = mergeSteps(steps);
  return first?.kind === 'matrix' ? first.matrix : identity3;
}

function viewsOf(
  config: SearchedConfig,
  base: string,
  spaces: readonly CandidateSpace[],
  heap: Heap,
  left: { what: string; why: string }[],
): CandidateView[] {
  const { colour } = config;
  const looks = [null, ...(colour.looks().length ? ['', ...colour.looks().map((l) => l.name)] : [])];
  const kept: {
    view: CandidateView & { same: { display: string; view: string; look: string | null }[] };
    seen: Float32Array;
  }[] = [];
  for (const { name: display, views } of colour.displays())
    for (const name of views)
      for (const look of looks) {
        const words = [display, name, look].filter(Boolean).join(' / ');
        const made = attempt(words, left, () => {
          const steps = colour.view(base, { display, view: name, look, exposure: 0 });
          return { steps, seen: probed(steps, heap) };
        });
        if (!made) continue;
        const twin = kept.find((k) => sameEverywhere(k.seen, made.seen));
        // A look is not what tells a view from itself: of equal ones the first is kept.
        if (twin) {
          twin.view.same.push({ display, view: name, look });
          continue;
        }
        const view = { display, view: name, look, steps: made.steps, same: [] };
        kept.push({ view: { ...view, spaces: spacesLeftAlone(config, view, spaces, heap) }, seen: made.seen });
      }
  return kept.map((k) => k.view);
}

/** A view that shows numbers as they are gives the same for all spaces of its config: one stands for those; undefined for other views. */
function spacesLeftAlone(
  { colour }: SearchedConfig,
  { display, view, look, steps }: CandidateView,
  spaces: readonly CandidateSpace[],
  heap: Heap,
): CandidateSpace[] | undefined {
  const asItIs = probed(steps, heap);
  const alone = (name: string) =>
    sameEverywhere(asItIs, probed(colour.view(name, { display, view, look, exposure: 0 }), heap));
  const [one, ...others] = spaces
    .filter((s) => !isIdentity3(s.matrix, sameMatrix))
    .slice(0, 2)
    .some((s) => alone(s.name))
    ? spaces.filter((s) => alone(s.name))
    : [];
  if (!one) return undefined;
  const same = [...one.same, ...others.flatMap((s) => [s.name, ...s.same])];
  return [{ name: one.name, matrix: identity3, same }, ...spaces.filter((s) => s !== one && !others.includes(s))];
}

function sameEverywhere(a: Float32Array, b: Float32Array): boolean {
  for (let i = 0; i < a.length; i++) if (!(Math.abs(a[i]! - b[i]!) <= sameCodes)) return false;
  return true;
}

/**
 * Colours that views are told apart by, in ACES2065-1 or whatever a config's base is: greys and colours of many hues and purities from ten
 * stops below middle grey to seven above, colour after colour.
 */
export const probeColours: Float32Array = (() => {
  const colours: number[] = [];
  for (let stop = -10; stop <= 7; stop += 0.5) {
    const level = 0.18 * 2 ** stop;
    colours.push(level, level, level);
    for (let hue = 0; hue < 12; hue++)
      for (const purity of [0.3, 0.7, 1]) {
        const wave = (third: number) => 1 - purity * (0.5 - 0.5 * Math.cos((2 * Math.PI * (hue - 4 * third)) / 12));
        colours.push(level * wave(0), level * wave(1), level * wave(2));
      }
  }
  return Float32Array.from(colours);
})();

/** The probe colours through a view. */
export function probed(
  steps: readonly ColourStep[],
  heap: Heap,
  matrix: Matrix3 = identity3,
  exposure = 0,
): Float32Array {
  const n = probeColours.length / 3;
  const gain = 2 ** exposure;
  return throughSteps(steps, heap, n, (i) =>
    apply3(matrix, [gain * probeColours[3 * i]!, gain * probeColours[3 * i + 1]!, gain * probeColours[3 * i + 2]!]),
  );
}

/** Colours through steps: `n` of them, as `colourAt` gives them; the results colour after colour. */
export function throughSteps(
  steps: readonly ColourStep[],
  heap: Heap,
  n: number,
  colourAt: (i: number) => readonly [number, number, number],
): Float32Array {
  return filledThroughSteps(steps, heap, n, (planes) => {
    for (let i = 0; i < n; i++) {
      const colour = colourAt(i);
      for (let c = 0; c < 3; c++) planes[c]![i] = colour[c]!;
    }
  });
}

/** Colours through steps: `n` of them, which `fill` writes into three planes; the results colour after colour. */
export function filledThroughSteps(
  steps: readonly ColourStep[],
  heap: Heap,
  n: number,
  fill: (planes: readonly Float32Array[]) => void,
): Float32Array {
  const mark = heap.mark();
  try {
    const run = prepareSteps(steps, heap);
    const planes = [0, 1, 2].map(() => heap.allocatePlane(n)) as [number, number, number];
    fill(planes.map((p) => heap.floats(p, n)));
    run(...planes, n);
    const out = new Float32Array(3 * n);
    planes.forEach((p, c) => {
      const done = heap.floats(p, n);
      for (let i = 0; i < n; i++) out[3 * i + c] = done[i]!;
    });
    return out;
  } finally {
    heap.release(mark);
  }
}
