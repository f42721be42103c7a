import { BroadcastChannel } from 'node:worker_threads';
import { setImmediate } from 'node:timers/promises';
import {
  candidatesOf,
  chartPatches,
  ChartError,
  CornersError,
  publishedTargets,
  solveChart,
  throughSteps,
  toXyz,
  type ChartCorners,
  type ChartFreedom,
  type ChartPatch,
  type ChartSolution,
  type Vector3,
  centred,
  compareToReference,
  compileSubject,
  derivedLight,
  derivedLog,
  derivedLut,
  undoingOf,
  deriveView,
  findMatch,
  ownAlpha,
  patchMean,
  readLut,
  register,
  RegistrationError,
  showsItsFrame,
  FormatError,
  ExrError,
  type CandidateConfig,
  ShotColour,
  UnknownNameError,
  WritingError,
  type ColourKey,
  type DerivedView,
  type Undoing,
  type ViewPair,
  type LedgerDocument,
  type LightPicture,
  type LookFile,
  type MatchProgress,
  type MatchResult,
  type PatchMean,
  type Window,
  type PlanSource,
  type Primaries,
  type ReferenceComparison,
  type ThreePlanes,
} from '@june-haze/core';
import { readCodes } from '@june-haze/files';
import type { MatchProgressTold, Viewing } from '@june-haze/contract';
import type { FrameFile } from '../intake/frameFiles.ts';
import { colourOf, type ColourPlace } from '../library/store.ts';
import type { Answered } from './colourTasks.ts';
import { evaluateFrame, threadHeap, type FrameFiles } from './evaluateFrame.ts';

const nothing: LedgerDocument = { version: 2, entries: [] };

/** A pass of a source at a frame. */
export interface LightTask {
  readonly source: PlanSource;
  readonly pass: string;
  readonly files: FrameFiles;
  readonly frame: number;
}

/** Light of a pass over its whole picture, in the working space: premultiplied, as it lies on black. */
async function lightOf(
  { source, pass, files, frame }: LightTask,
  working: string,
  colour: ColourPlace,
): Promise<LightPicture> {
  const size = source.size!;
  const plan = compileSubject(
    nothing,
    { kind: 'pass', sourceId: source.id, pass },
    [{ ...source, placement: centred }],
    working,
    colourOf(colour),
    {
      frame,
      size,
    },
  );
  const planes = [0, 1, 2].map(() => new Float32Array(size.width * size.height)) as unknown as ThreePlanes;
  const found = source.passes.find((p) => p.name === pass);
  const alpha = found && ownAlpha(source, found) ? new Float32Array(size.width * size.height) : undefined;
  await evaluateFrame(plan, files, false, size, (row, rows, total, heap, width) => {
    for (let c = 0; c < 3; c++) planes[c]!.set(heap.floats(total[c]!, rows * width), row * width);
    alpha?.set(heap.floats(total[3], rows * width), row * width);
  });
  return { ...size, planes, alpha };
}

async function answered<T>(ask: () => Promise<T>): Promise<Answered<T>> {
  try {
    return { value: await ask() };
  } catch (error) {
    if (
      [
        RegistrationError,
        FormatError,
        ExrError,
        UnknownNameError,
        WritingError,
        RangeError,
        ChartError,
        CornersError,
      ].some((kind) => error instanceof kind)
    )
      return { refused: (error as Error).message };
    throw error;
  }
}

export interface ReferenceTask extends LightTask {
  readonly colour: ColourPlace;
  readonly workingSpace: string;
  readonly viewing: Viewing;
  readonly reference: FrameFile;
}

/** The reference proof: a frame through the viewing, against the picture that shows how it must look. */
export const proveReference = (task: ReferenceTask): Promise<Answered<ReferenceComparison>> =>
  answered(async () => {
    const { colour, workingSpace, viewing, reference } = task;
    const colours = colourOf(colour);
    const light = await lightOf(task, workingSpace, colour);
    const picture = await readCodes(reference.path, reference.name);
    const encoding = colours.displayEncoding(viewing.display, viewing.view) ?? 'srgb';
    return compareToReference(light, colours.view(workingSpace, viewing), picture, encoding, threadHeap());
  });

/** A config to be searched: the built-in one when its key names none. */
export interface ConfigToSearch {
  readonly id: string | null;
  readonly name: string;
  readonly key: ColourKey;
  readonly files: readonly LookFile[];
}

export interface FindTask extends LightTask {
  readonly colour: ColourPlace;
  readonly workingSpace: string;
  readonly reference: FrameFile;
  readonly chromaticities: Primaries | undefined;
  readonly configs: readonly ConfigToSearch[];
  /** What a person read off the renderer. */
  readonly note: string;
  /** Where progress is told, and where the word to stop is heard. */
  readonly channel: string;
}

/** Candidates by config: making them takes longer than a search. */
const candidates = new Map<string, CandidateConfig>();

function candidatesFor({ id, name, key, files }: ConfigToSearch, folder: string): CandidateConfig {
  const known = JSON.stringify([id, key, files, folder]);
  const found =
    candidates.get(known) ?? candidatesOf({ id, name, colour: colourOf({ key, folder }), files }, threadHeap());
  if (candidates.size >= 16) candidates.clear();
  candidates.set(known, found);
  return found;
}

export const stopWord = 'stop';

/** Searches for what made a picture, and tells how far it is. Undefined when it was stopped. */
export const findReference = (task: FindTask): Promise<Answered<MatchResult | undefined>> =>
  answered(async () => {
    const channel = new BroadcastChannel(task.channel);
    let stopped = false;
    channel.onmessage = (message) => {
      if ((message as { data: unknown }).data === stopWord) stopped = true;
    };
    try {
      // Numbers as they are: a source that is taken to be in the working space already is not converted.
      const light = await lightOf(
        { ...task, source: { ...task.source, space: task.workingSpace } },
        task.workingSpace,
        task.colour,
      );
      const picture = await readCodes(task.reference.path, task.reference.name);
      const configs: CandidateConfig[] = [];
      for (const config of task.configs) {
        configs.push(candidatesFor(config, task.colour.folder));
        await setImmediate();
        if (stopped) return undefined;
      }
      const search = findMatch(
        { light, picture, configs, chromaticities: task.chromaticities, note: task.note },
        threadHeap(),
      );
      for (let step = search.next(); ; step = search.next()) {
        if (step.done) return step.value;
        channel.postMessage(toldProgress(step.value));
        await setImmediate();
        if (stopped) return undefined;
      }
    } finally {
      channel.close();
    }
  });

const toldProgress = ({ tried, count, rows }: MatchProgress): MatchProgressTold => ({
  tried,
  count,
  rows: rows.map(({ guess: { of, space, view, exposure, black, white, gamma, mistake }, error }) => ({
    space: space.name,
    config: of.config.name,
    configId: of.config.id,
    display: view.display,
    view: view.view,
    look: view.look,
    lookFile: view.lookFile,
    exposure,
    black,
    white,
    gamma,
    mistake,
    error,
  })),
});

export interface DeriveTask {
  readonly colour: ColourPlace;
  /** A frame and the picture that was made of it, each; the first is the one that is compared. */
  readonly pairs: readonly (LightTask & { readonly reference: FrameFile })[];
  readonly title: string;
}

export interface Derived extends Pick<DerivedView, 'unseen' | 'curvesAlone' | 'coverage'> {
  readonly text: string;
  readonly undoing: Undoing;
  /** Pictures that it was made from, and those that were left out, each with the reason. */
  readonly used: readonly string[];
  readonly left: readonly string[];
}

/** A view derived from references, as a show LUT for the Library, with its figures. What does not show its frame is left out, but for the first. */
export const deriveReference = (task: DeriveTask): Promise<Answered<Derived>> =>
  answered(async () => {
    const pairs: ViewPair[] = [];
    const [used, left]: [string[], string[]] = [[], []];
    for (const pair of task.pairs) {
      const { name } = pair.reference;
      try {
        const light = await lightOf(pair, derivedLight, task.colour);
        const picture = await readCodes(pair.reference.path, name);
        if (showsItsFrame(register(light, picture))) {
          pairs.push({ light, picture });
          used.push(name);
        } else left.push(`${name}: it does not show frame ${pair.frame}.`);
      } catch (error) {
        if (pair === task.pairs[0] || !(error instanceof RegistrationError || error instanceof FormatError))
          throw error;
        left.push(`${name}: ${error.message}`);
      }
    }
    const toLog = new ShotColour().conversion(derivedLight, derivedLog);
    const derived = deriveView(pairs, toLog, 'srgb', threadHeap());
    const { unseen, curvesAlone, coverage } = derived;
    const text = derivedLut(derived, task.title);
    const undoing = undoingOf(readLut(Buffer.from(text), 'derived.cube'), pairs[0]!.light, threadHeap());
    return { text, unseen, curvesAlone, coverage, undoing, used, left };
  });

/** The mean of a region of a frame's light in the working space, outliers left out. */
export const measurePatch = (
  task: LightTask & { readonly colour: ColourPlace; readonly workingSpace: string; readonly region: Window },
): Promise<Answered<PatchMean>> =>
  answered(async () => {
    const light = await lightOf(task, task.workingSpace, task.colour);
    return patchMean(light, task.region, colourOf(task.colour).luminance(task.workingSpace));
  });

export interface ChartTask extends LightTask {
  readonly colour: ColourPlace;
  readonly workingSpace: string;
  readonly corners: ChartCorners;
  /** The same chart in another pass, whose light is the target; the published table where there is none. */
  readonly target?: LightTask | undefined;
  /** Patches that do not count, by their place. */
  readonly without: readonly number[];
  readonly freedom: ChartFreedom;
}

/** A chart's patches, and the matrix in the working space that takes them nearest to their targets. */
export const measureChart = (
  task: ChartTask,
): Promise<Answered<ChartSolution & { patches: readonly ChartPatch[]; targets: readonly Vector3[] }>> =>
  answered(async () => {
    const { workingSpace, colour, corners, target, without, freedom } = task;
    const colours = colourOf(colour);
    const primaries = colours.linearTwin(workingSpace)?.primaries;
    if (!primaries)
      throw new ChartError(`The primaries of ${workingSpace} are not known: choose another working space.`);
    const patches = chartPatches(await lightOf(task, workingSpace, colour), corners);
    const published = () => {
      const steps = colours.conversion('Linear Rec.709', workingSpace);
      const all = publishedTargets();
      const light = throughSteps(steps, threadHeap(), all.length, (i) => all[i]!);
      return all.map((_, i): Vector3 => [light[3 * i]!, light[3 * i + 1]!, light[3 * i + 2]!]);
    };
    const targets = target
      ? chartPatches(await lightOf(target, workingSpace, colour), corners).map((p) => p.mean)
      : published();
    const weights = patches.map((p, i) => (p.clipped > 0 || without.includes(i) ? 0 : 1));
    const solved = solveChart(
      patches.map((p) => p.mean),
      targets,
      weights,
      toXyz(primaries),
      freedom,
    );
    return { ...solved, patches, targets };
  });
