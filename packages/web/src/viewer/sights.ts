import {
  adjustmentSteps,
  asItIs,
  beforeSum,
  changesOverFrames,
  compileSubject,
  displayCodes,
  placementTo,
  planSource,
  relativeAspect,
  shownSteps,
  walkEntries,
  type Entry,
  type LedgerDocument,
  type PlanSource,
  type ShotColour,
  type Showing,
  type Size,
  type Subject,
  type ViewChoice,
  type ViewingPart,
  type CompileOptions,
} from '@june-haze/core';
import {
  codesWithoutView,
  holdsPictures,
  windowsOfOutput,
  sourceOfRun,
  type Output,
  type Run,
  type Shot,
  type Source,
} from '@june-haze/contract';
import { Plans } from './engine/plans.ts';

/** What can be looked at: of the ledger, a pass, a picture shown untouched, the files of an output. */
export type Seen =
  | Subject
  | { readonly kind: 'reference'; readonly sourceId: string }
  | { readonly kind: 'output'; readonly outputId: string };

/** Another order of things than the one that is right, to be seen for what it does. */
export type OtherOrder =
  /** Every row encoded as sRGB before it is summed. */
  | 'encoded sum'
  /** Every row through the view before it is summed. */
  | 'view first'
  /** A row's changes on the codes, after the view. */
  | 'change after view';

/** One side of a comparison, as a person chose it: plain data, kept between visits. */
export interface SightChoice {
  readonly of: Seen;
  /** Another frame than the one looked at: so many after it. */
  readonly later?: number;
  /** Another viewing than the shot's. */
  readonly viewing?: Partial<ViewChoice>;
  /** Other declared spaces, by source; null takes its numbers for the working space's. */
  readonly spaces?: Readonly<Record<string, string | null>>;
  /** Every source as it is, its numbers taken for the working space's. */
  readonly asItIs?: boolean;
  readonly off?: readonly ViewingPart[];
  readonly plain?: boolean;
  readonly order?: OtherOrder;
  /** Its alpha alone. */
  readonly alpha?: boolean;
  /** The row whose changes an order moves. */
  readonly entry?: string;
}

/** What a picture shows, ready to be drawn. */
export interface Sight {
  readonly name: string;
  readonly plans: Plans;
  readonly later: number;
  readonly showing: Showing;
  /** Its numbers are light of the working space; else codes of a screen. */
  readonly light: boolean;
  /** What was done to make it fit beside another, in words; empty when nothing was. */
  readonly notes: readonly string[];
  /** Marks of what is looked at beside the shot's sources. */
  readonly stamps: Readonly<Record<string, string>>;
}

/** What sights are made of. */
export interface SightPlace {
  readonly shot: Shot;
  readonly document: LedgerDocument;
  readonly colour: ShotColour;
  /** Of the picture that sights are laid in. */
  readonly size: Size;
  readonly frame: number;
  readonly off: readonly ViewingPart[];
  readonly plain: boolean;
}

/** A sight as it was chosen. Throws a sentence where what it shows is not there; its plans throw where a frame cannot be evaluated. */
export function sightOf(choice: SightChoice, place: SightPlace): Sight {
  const { shot, colour } = place;
  const notes: string[] = [];
  const name = nameOf(choice, place);
  const viewing = { ...shot.viewing, ...choice.viewing };
  const base: Showing = {
    viewing,
    off: [...new Set([...place.off, ...(choice.off ?? [])])],
    plain: choice.plain ?? place.plain,
  };
  const { of } = choice;
  const later = choice.later ?? 0;
  if (of.kind === 'reference') {
    const found = requireSource(shot, of.sourceId);
    const laid = fitted(asItIs(planSource(found), shot.workingSpace), place, notes);
    const subject: Subject = { kind: 'pass', sourceId: found.id, pass: beautyOf(found) };
    const plans = plansOf(subject, [laid], place);
    return {
      name,
      later,
      notes: ['shown untouched', ...notes],
      stamps: {},
      plans,
      showing: { viewing, off: ['display'] },
      light: false,
    };
  }
  if (of.kind === 'output') return outputSight(of.outputId, name, base, choice, place, notes);
  const sources = shot.sources.map((s) => declaredAs(planSource(s), choice, shot.workingSpace));
  const plans = plansOf(of, sources, place);
  const stamps = {};
  if (of.kind === 'matte' || of.kind === 'named matte')
    return { name, later, notes, stamps, plans, light: false, showing: { viewing, off: ['display'] } };
  switch (choice.order) {
    case 'encoded sum': {
      const encoded = colour.conversion(shot.workingSpace, 'sRGB');
      const summed = plans.map((p) => beforeSum(p, encoded));
      return {
        name,
        later,
        notes: [...notes, 'codes summed, not light'],
        stamps,
        plans: summed,
        showing: { viewing, off: ['display'] },
        light: false,
      };
    }
    case 'view first': {
      const seen = shownSteps(colour, shot.workingSpace, base);
      const summed = plans.map((p) => beforeSum(p, seen));
      return {
        name,
        later,
        notes: [...notes, 'each row through the view, then summed'],
        stamps,
        plans: summed,
        showing: { viewing, off: ['display'] },
        light: false,
      };
    }
    case 'change after view': {
      const entry = requireEntry(place.document, choice.entry);
      const after = adjustmentSteps(entry, colour, shot.workingSpace, place.frame);
      return {
        name,
        later,
        notes: [...notes, 'on the codes of the whole picture'],
        stamps,
        plans,
        light: true,
        showing: { ...base, after },
      };
    }
    default:
      return { name, later, notes, stamps, plans, light: true, showing: base };
  }
}

function plansOf(subject: Subject, sources: readonly PlanSource[], place: SightPlace): Plans {
  const { document, colour, size, shot } = place;
  const options = (frame: number): CompileOptions => ({ frame, size, leaveOutFaults: !single.has(subject.kind) });
  return new Plans(
    (frame) => compileSubject(document, subject, sources, shot.workingSpace, colour, options(frame)),
    changesOverFrames(document, sources),
  );
}

/** What is looked at by itself: where it cannot be made, it says why. */
const single: ReadonlySet<Subject['kind']> = new Set(['pass', 'row', 'matte', 'named matte'] as const);

function declaredAs(source: PlanSource, { spaces, asItIs: all }: SightChoice, working: string): PlanSource {
  if (all) return asItIs(source, working);
  const space = spaces?.[source.id];
  if (space === undefined) return source;
  return space === null ? asItIs(source, working) : { ...source, space };
}

/** A picture of another size, fitted into the place's unless it is placed already; says so. */
function fitted(source: PlanSource, { size, shot }: SightPlace, notes: string[]): PlanSource {
  if (!source.size || (source.size.width === size.width && source.size.height === size.height)) return source;
  const all = shot.sources.map(planSource);
  const placement = source.placement ?? placementTo('fit', source.size, size, relativeAspect(source, all, size));
  notes.push(`${source.size.width}×${source.size.height} resampled to ${size.width}×${size.height} (Mitchell)`);
  return { ...source, placement };
}

/** The last run of an output whose files lie there. */
export function writtenRun({ outputs, runs }: Shot, outputId: string): Run | undefined {
  const kind = outputs.find((o) => o.id === outputId)?.kind;
  // Of passes there is no one picture, and a contact sheet has no frames: they are brought in to be looked at.
  if (kind === 'passes' || kind === 'sheet') return undefined;
  const movie = kind === 'movie';
  // Of a movie there is nothing to see before it is whole.
  return runs.find(
    (r) => r.outputId === outputId && (movie ? r.state === 'done' : r.frames.some((f) => f.state === 'done')),
  );
}

function outputSight(
  outputId: string,
  name: string,
  base: Showing,
  choice: SightChoice,
  place: SightPlace,
  notes: string[],
): Sight {
  const { shot } = place;
  const output = shot.outputs.find((o) => o.id === outputId);
  const run = output && writtenRun(shot, outputId);
  if (!output || !run) throw new Error('This output has not been written.');
  const id = sourceOfRun(run.id);
  const { display } = windowsOfOutput(output, shot);
  const channels = ['R', 'G', 'B'].map((c) => ({ component: c, name: c, type: 'half' as const }));
  const source: PlanSource = {
    id,
    name: output.name,
    space: spaceOfOutput(output, shot),
    passes: [{ name: 'picture', role: 'beauty', part: 0, channels }],
    alpha: 'none',
    size: { width: display.xMax + 1, height: display.yMax + 1 },
  };
  const picture = holdsPictures(output);
  const laid = fitted(source, place, notes);
  if (run.changedSince.length) notes.push('what they were made of has changed since');
  const subject: Subject = { kind: 'pass', sourceId: id, pass: 'picture' };
  const stamp = `${run.id} ${run.startedAt} ${run.frames.filter((f) => f.state === 'done').length}`;
  return {
    name,
    later: choice.later ?? 0,
    notes: [...notes, picture ? codesWords(output) : `numbers of the file, read as ${source.space}`],
    stamps: { [id]: stamp },
    plans: plansOf(subject, [laid], place),
    light: !picture,
    showing: picture ? { viewing: base.viewing, off: ['display'] } : base,
  };
}

/** In what an output's numbers are; pictures hold codes, which are not converted. */
/** What is seen of a picture's file; codes of another display look otherwise here than on that display. */
const codesWords = ({ codes }: Output): string =>
  codes
    ? `codes of the file, untouched: ${displayCodes[codes].name}, not this display’s own`
    : 'codes of the file, untouched';

function spaceOfOutput(output: Output, { workingSpace }: Shot): string {
  const { kind, space } = output;
  if (kind === 'aces') return 'ACES2065-1';
  return kind === 'exr' || kind === 'dpx' || codesWithoutView(output) ? (space ?? workingSpace) : workingSpace;
}

export const beautyOf = ({ passes }: Pick<Source, 'passes'>): string =>
  (passes.find((p) => p.role === 'beauty') ?? passes[0])?.name ?? '';

function requireSource(shot: Shot, id: string): Source {
  const found = shot.sources.find((s) => s.id === id);
  if (!found) throw new Error('The source is no longer in the shot.');
  return found;
}

function requireEntry(document: LedgerDocument, id: string | undefined): Entry {
  for (const entry of walkEntries(document.entries)) if (entry.id === id) return entry;
  throw new Error('The row is no longer in the ledger.');
}

/** What a sight is called, with what is other than usual about it. */
export function nameOf(choice: SightChoice, place: Pick<SightPlace, 'shot' | 'document'>): string {
  const { later = 0, viewing, spaces, asItIs: all, off, plain, order } = choice;
  const more = [
    ...(later
      ? [`${Math.abs(later)} ${Math.abs(later) === 1 ? 'frame' : 'frames'} ${later < 0 ? 'before' : 'after'}`]
      : []),
    ...(viewing?.view ? [`${viewing.display ?? place.shot.viewing.display} / ${viewing.view}`] : []),
    ...(all ? ['as it is'] : []),
    ...Object.values(spaces ?? {}).map((s) => (s === null ? 'as it is' : `declared ${s}`)),
    ...(off?.length ? [`${off.join(', ')} off`] : []),
    ...(plain ? ['plain view'] : []),
    ...(choice.alpha ? ['alpha'] : []),
    ...(order ? [orderNames[order]] : []),
  ];
  return [seenName(choice.of, place), ...more].join(', ');
}

export const orderNames: Readonly<Record<OtherOrder, string>> = {
  'encoded sum': 'summed in an encoded space',
  'view first': 'view before the sum',
  'change after view': 'change after the view',
};

function seenName(of: Seen, { shot, document }: Pick<SightPlace, 'shot' | 'document'>): string {
  const row = (id: string) => [...walkEntries(document.entries)].find((e) => e.id === id)?.name ?? 'a row that is gone';
  const source = (id: string) => shot.sources.find((s) => s.id === id)?.name ?? 'a source that is gone';
  switch (of.kind) {
    case 'total':
      return 'Total';
    case 'pass':
      return `${of.pass} of ${source(of.sourceId)}`;
    case 'row':
      return `${row(of.entry)} alone`;
    case 'above':
      return `Total above ${row(of.entry)}`;
    case 'without':
      return `Without ${row(of.entry)}${of.adjustment === undefined ? '' : `’s adjustment ${of.adjustment + 1}`}`;
    case 'unchanged':
      return `Without the adjustments of ${row(of.entry)}`;
    case 'matte':
      return `Matte of ${row(of.entry)}`;
    case 'named matte':
      return `Matte ${of.name}`;
    case 'through':
      return `Total with ${row(of.entry)}`;
    case 'incoming':
      return `What comes to adjustment ${of.adjustment + 1} of ${row(of.entry)}`;
    case 'start':
      return 'Start: rows as they came in';
    case 'reference':
      return `Reference ${source(of.sourceId)}`;
    case 'output':
      return `Files of ${shot.outputs.find((o) => o.id === of.outputId)?.name ?? 'an output that is gone'}`;
  }
}
