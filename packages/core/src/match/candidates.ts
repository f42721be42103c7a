import { identity3, isIdentity3, type Matrix3 } from '../colour/matrix.ts';
import { isLinearMap, mergeSteps } from '../colour/merge.ts';
import { prepareSteps } from '../colour/prepare.ts';
import type { ColourStep } from '../colour/steps.ts';
import { isLutDisplay } from '../config/lutViews.ts';
import type { ShotColour } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';
import type { LookFile } from '../operations/parameters.ts';

/** A config that is searched, by the name that a person knows it by. */
export interface SearchedConfig {
  /** Null for the built-in one. */
  readonly id: string | null;
  readonly name: string;
  readonly colour: ShotColour;
  /** LUTs and CDLs that `colour` knows, each on numbers of the space that it expects: looks that may have been on. */
  readonly files?: readonly LookFile[];
}

/** A space that numbers may be in. */
export interface CandidateSpace {
  readonly name: string;
  /** From its numbers to the config's base: one matrix, where it is linear. */
  readonly toBase: readonly ColourStep[];
  /** Other names of the same light. */
  readonly same: readonly string[];
}

/** What a view is called, with its looks. */
export interface ViewNames {
  readonly display: string;
  readonly view: string;
  /** Looks in place of the view's own; "" for none, null for the view's own. */
  readonly look: string | null;
  /** A LUT or CDL before the view. */
  readonly lookFile: LookFile | null;
}

/** A view that a picture may have been saved through. */
export interface CandidateView extends ViewNames {
  /** From the config's base to display values, which are clamped to 0 … 1. */
  readonly steps: readonly ColourStep[];
  /** Its own spaces, where it shows numbers as they are: one stands for all whose numbers it leaves alone. */
  readonly spaces?: readonly CandidateSpace[] | undefined;
  /** Views that give the same for every colour. */
  readonly same: readonly ViewNames[];
}

/** All that a config offers. */
export interface CandidateConfig {
  readonly config: SearchedConfig;
  /** The linear space that all others are brought to. */
  readonly base: string;
  readonly spaces: readonly CandidateSpace[];
  /** Spaces that are not linear, made when they are asked for: only numbers within 0 … 1 are in one. */
  readonly encoded: () => readonly CandidateSpace[];
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
  const known = colour.spaces().filter((s) => !s.isData);
  const linear = known.filter((s) => s.linear);
  const base = linear.find((s) => s.name === 'ACES2065-1')?.name ?? linear[0]?.name;
  if (base === undefined) {
    const left = [{ what: config.name, why: 'it has no linear space' }];
    return { config, base: '', spaces: [], encoded: () => [], views: [], left };
  }
  const left: { what: string; why: string }[] = [];
  const spaces: { name: string; toBase: readonly ColourStep[]; matrix: Matrix3; same: string[] }[] = [];
  for (const { name } of linear) {
    const matrix = attempt(name, left, () => matrixOf(colour.conversion(name, base)));
    if (!matrix) continue;
    const twin = spaces.find((s) => s.matrix.every((v, i) => Math.abs(v - matrix[i]!) < sameMatrix));
    if (twin) twin.same.push(name);
    else spaces.push({ name, toBase: [{ kind: 'matrix', matrix }], matrix, same: [] });
  }
  let encoded: readonly CandidateSpace[] | undefined;
  const others = known.filter((s) => !s.linear).map((s) => s.name);
  return {
    config,
    base,
    spaces,
    encoded: () => (encoded ??= encodedSpaces(config, base, others, heap, left)),
    views: viewsOf(config, base, spaces, heap, left),
    left,
  };
}

/** Light of spaces that lies nearer than this share, everywhere, is the same. */
const sameLight = 1e-4;

/** The spaces of a config that are not linear, numerically equal ones merged. */
function encodedSpaces(
  { colour }: SearchedConfig,
  base: string,
  names: readonly string[],
  heap: Heap,
  left: { what: string; why: string }[],
): CandidateSpace[] {
  const kept: { space: CandidateSpace & { same: string[] }; light: Float32Array }[] = [];
  for (const name of names) {
    const made = attempt(name, left, () => {
      const toBase = colour.conversion(name, base);
      return { toBase, light: throughSteps(toBase, heap, probeNumbers.length, (i) => probeNumbers[i]!) };
    });
    if (!made) continue;
    const near = (v: number, i: number) => Math.abs(v - made.light[i]!) <= sameLight * (Math.abs(v) + 0.01);
    const twin = kept.find((k) => k.light.every(near));
    if (twin) twin.space.same.push(name);
    else kept.push({ space: { name, toBase: made.toBase, same: [] }, light: made.light });
  }
  return kept.map((k) => k.space);
}

/** Numbers that encodings are told apart by: five steps of each channel, and greys between. */
const probeNumbers: readonly (readonly [number, number, number])[] = [
  ...Array.from({ length: 125 }, (_, n) => [n % 5, Math.floor(n / 5) % 5, Math.floor(n / 25)] as const).map(
    ([r, g, b]) => [r / 4, g / 4, b / 4] as const,
  ),
  ...Array.from({ length: 32 }, (_, i) => [i / 31, i / 31, i / 31] as const),
];

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

/** A linear space with its matrix to the base. */
type LinearSpace = CandidateSpace & { readonly matrix: Matrix3 };

function viewsOf(
  config: SearchedConfig,
  base: string,
  spaces: readonly LinearSpace[],
  heap: Heap,
  left: { what: string; why: string }[],
): CandidateView[] {
  const { colour, files = [] } = config;
  const looks: Pick<ViewNames, 'look' | 'lookFile'>[] = [
    ...[null, ...(colour.looks().length ? ['', ...colour.looks().map((l) => l.name)] : [])].map((look) => ({
      look,
      lookFile: null,
    })),
    ...files.map((lookFile) => ({ look: null, lookFile })),
  ];
  const kept: { view: CandidateView & { same: ViewNames[] }; seen: Float32Array }[] = [];
  for (const { name: display, views } of colour.displays())
    for (const view of views)
      for (const look of isLutDisplay(display) ? looks.filter((l) => !l.lookFile) : looks) {
        const names = { display, view, ...look };
        const words = [display, view, look.look, look.lookFile?.name].filter(Boolean).join(' / ');
        const made = attempt(words, left, () => {
          const steps = colour.view(base, { ...names, exposure: 0 });
          return { steps, seen: probed(steps, heap) };
        });
        if (!made) continue;
        const twin = kept.find((k) => sameEverywhere(k.seen, made.seen));
        // A look is not what tells a view from itself: of equal ones the first is kept.
        if (twin) {
          twin.view.same.push(names);
          continue;
        }
        const candidate = { ...names, steps: made.steps, same: [] };
        kept.push({
          view: { ...candidate, spaces: spacesLeftAlone(config, candidate, spaces, heap) },
          seen: made.seen,
        });
      }
  return kept.map((k) => k.view);
}

/** A view that shows numbers as they are gives the same for all spaces of its config: one stands for those; undefined for other views. */
function spacesLeftAlone(
  { colour }: SearchedConfig,
  { steps, display, view, look, lookFile }: CandidateView,
  spaces: readonly LinearSpace[],
  heap: Heap,
): CandidateSpace[] | undefined {
  const asItIs = probed(steps, heap);
  const alone = (name: string) =>
    sameEverywhere(asItIs, probed(colour.view(name, { display, view, look, lookFile, exposure: 0 }), heap));
  const [one, ...others] = spaces
    .filter((s) => !isIdentity3(s.matrix, sameMatrix))
    .slice(0, 2)
    .some((s) => alone(s.name))
    ? spaces.filter((s) => alone(s.name))
    : [];
  if (!one) return undefined;
  const same = [...one.same, ...others.flatMap((s) => [s.name, ...s.same])];
  return [{ name: one.name, toBase: [], same }, ...spaces.filter((s) => s !== one && !others.includes(s))];
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

/** The probe colours through a view; `toBase` takes them to the view's base, where they are exposed, in stops. */
export function probed(
  steps: readonly ColourStep[],
  heap: Heap,
  toBase: readonly ColourStep[] = [],
  exposure = 0,
): Float32Array {
  return throughSteps([...toBase, ...exposedBy(exposure), ...steps], heap, probeColours.length / 3, (i) => [
    probeColours[3 * i]!,
    probeColours[3 * i + 1]!,
    probeColours[3 * i + 2]!,
  ]);
}

/** Exposure, in stops, as steps. */
export function exposedBy(stops: number): ColourStep[] {
  const gain = 2 ** stops;
  return stops === 0 ? [] : [{ kind: 'matrix', matrix: [gain, 0, 0, 0, gain, 0, 0, 0, gain] }];
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
