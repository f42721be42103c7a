import { ShotColour } from '../config/shotColour.ts';
import { valueAt } from '../operations/keyed.ts';
import { valuesAt, whyNotValues } from '../operations/parameters.ts';
import { findBlend, findFinish } from '../operations/registry.ts';
import { dataRoles, pictureChannels, type Pass } from '../sequence/passes.ts';
import { ownAlpha, startingAlpha, totalHasAlpha } from './alpha.ts';
import { adjustmentChange, conversionChange, mergeChanges, type ChangePlace } from './changes.ts';
import {
  acts,
  adjustmentsOf,
  atFrame,
  type Entry,
  type FinishEntry,
  type LedgerDocument,
  type PassEntry,
  type PictureEntry,
} from './document.ts';
import { compileMatte, type PassPlace } from './mattes.ts';
import {
  PlanError,
  type Change,
  type Fault,
  type Laid,
  type Picture,
  type Plan,
  type PlanInput,
  type PlanMatte,
  type PlanNode,
  type Planes,
  type PlanStep,
} from './plan.ts';
import { centred, relativeAspect, type PlanSource } from './planSource.ts';
import type { Size } from './sizes.ts';

export interface CompileOptions {
  /** The frame whose values keyed numbers take. */
  readonly frame?: number;
  /** The shot's size; sources of other sizes are placed in it. Left out, every source has it. */
  readonly size?: Size;
  /** Leaves entries out that cannot be evaluated, and says so in `faults`, instead of refusing the ledger. */
  readonly leaveOutFaults?: boolean;
  /** Lays data on the total as it is: to be looked at by itself, never in a ledger. */
  readonly dataAsItIs?: boolean;
}

/**
 * Compiles a ledger for a frame: conversions and adjustments fold into few steps, what does nothing vanishes, equal inputs are shared.
 * Throws a PlanError for an entry that cannot be evaluated: its source or pass is gone, data is taken for light (a depth or an ID may
 * multiply, never be added, taken away or laid over), a value is out of range, a kind is not known. Rows whose source is not there at the frame rest.
 */
export function compilePlan(
  document: LedgerDocument,
  sources: readonly PlanSource[],
  workingSpace: string,
  colour: ShotColour = new ShotColour(),
  options: CompileOptions = {},
): Plan {
  return new Compiler(atFrame(document, sources, options.frame ?? 0), sources, workingSpace, colour, options).plan();
}

/** The nodes and steps of one total while they are gathered: a finish ends a run, what follows goes on from it. */
interface Gathering {
  from: number | undefined;
  startAlpha: Planes | undefined;
  steps: PlanStep[];
  /** Whether the total has alpha so far. */
  alpha: boolean;
}

class Compiler {
  private readonly inputs: PlanInput[] = [];
  private readonly keys = new Map<string, number>();
  private readonly nodes: PlanNode[] = [];
  private readonly entryIds: string[] = [];
  private readonly compiledMattes = new Map<string, PlanMatte>();
  private readonly faults: Fault[] = [];
  private readonly document: LedgerDocument;
  private readonly sources: readonly PlanSource[];
  private readonly colour: ShotColour;
  private readonly options: CompileOptions;
  private readonly frame: number;
  private readonly place: ChangePlace;

  constructor(
    document: LedgerDocument,
    sources: readonly PlanSource[],
    working: string,
    colour: ShotColour,
    options: CompileOptions,
  ) {
    this.document = document;
    this.sources = sources;
    this.colour = colour;
    this.options = options;
    this.frame = options.frame ?? 0;
    this.place = { colour, working, frame: this.frame, matte: (name) => this.matte(name) };
  }

  plan(): Plan {
    const { document, sources, frame } = this;
    const start = startingAlpha(document, sources, frame);
    const startPlanes = start && this.startAlpha(start);
    const total: Gathering = { from: undefined, startAlpha: startPlanes, steps: [], alpha: start !== undefined };
    this.gather(document.entries, total);
    this.close(total);
    const plan: Omit<Plan, 'faults'> = {
      inputs: this.inputs,
      nodes: this.nodes,
      entryIds: this.entryIds,
      luminance: this.colour.luminance(this.place.working),
      hasAlpha: totalHasAlpha(document.entries, start !== undefined, frame),
      balance: this.balance(),
    };
    return { ...plan, faults: this.faults };
  }

  private gather(entries: readonly Entry[], total: Gathering): void {
    for (const entry of entries) {
      if (!acts(entry, this.frame)) continue;
      const before = this.entryIds.length;
      try {
        if (entry.kind === 'finish') this.finish(entry, total);
        else total.steps.push(this.step(entry));
        if (entry.kind !== 'finish' && findBlend(entry.operation)?.alpha === 'composes') total.alpha = true;
      } catch (e) {
        if (!(e instanceof PlanError)) throw e;
        const message = e.message.startsWith('Entry "') ? e.message : `Entry "${entry.name}": ${e.message}`;
        if (!this.options.leaveOutFaults) throw new PlanError(message);
        this.entryIds.length = before;
        this.faults.push({ entry: entry.id, message });
      }
    }
  }

  /** Ends a run; returns its node. */
  private close(total: Gathering): number {
    const { from, startAlpha, steps } = total;
    const node = this.nodes.push({
      kind: 'run',
      ...(from === undefined ? {} : { from }),
      ...(startAlpha && from === undefined ? { startAlpha } : {}),
      steps,
    });
    return node - 1;
  }

  private finish(entry: FinishEntry, total: Gathering): void {
    const definition = findFinish(entry.finish);
    requireMix(entry, this.frame);
    if (!definition) throw new PlanError(`this version does not know the finish "${entry.finish as string}".`);
    const why = whyNotValues(definition.parameters, entry);
    if (why !== undefined) throw new PlanError(`${why}.`);
    const values = valuesAt(definition.parameters, entry, this.frame);
    if (definition.nothing(values)) return;
    if (definition.adjusts) return this.grade(entry, total);
    const planes = inSentence(() => definition.planes?.(values, this.mattePlace).map((p) => this.mattePlace.planes(p)));
    const matte = entry.matte ? this.matte(entry.matte) : undefined;
    const from = this.close(total);
    const number = this.entryIds.push(entry.id) - 1;
    const mix = valueAt(entry.mix, this.frame);
    const node = this.nodes.push({
      kind: 'finish',
      from,
      entry: number,
      finish: entry.finish,
      values,
      ...(planes ? { planes } : {}),
      ...(definition.perFrame ? { frame: this.frame } : {}),
      mix,
      alpha: total.alpha,
      ...(matte ? { matte } : {}),
    });
    total.from = node - 1;
    total.steps = [];
  }

  /** The total so far, adjusted and laid on itself. */
  private grade(entry: FinishEntry, total: Gathering): void {
    const changes = adjustmentsOf(entry).flatMap((a) => adjustmentChange(a, this.place) ?? []);
    if (!changes.length) return;
    const matte = entry.matte ? this.matte(entry.matte) : undefined;
    const node = this.close(total);
    total.from = node;
    total.steps = [
      {
        entry: this.entryIds.push(entry.id) - 1,
        picture: { kind: 'node', node, alpha: total.alpha },
        changes: mergeChanges(changes, total.alpha),
        operation: 'replace',
        mix: valueAt(entry.mix, this.frame),
        ...(matte ? { matte } : {}),
      },
    ];
  }

  private step(entry: PictureEntry): PlanStep {
    const definition = findBlend(entry.operation);
    requireMix(entry, this.frame);
    if (!definition) throw new PlanError(`this version does not know the operation "${entry.operation as string}".`);
    const adjusted = entry.adjustments.flatMap((a) => adjustmentChange(a, this.place) ?? []);
    const matte = entry.matte ? this.matte(entry.matte) : undefined;
    const number = this.entryIds.push(entry.id) - 1;
    const { picture, changes, alpha } = this.picture(entry);
    return {
      entry: number,
      picture,
      changes: mergeChanges([...changes, ...adjusted], alpha),
      operation: entry.operation,
      mix: valueAt(entry.mix, this.frame),
      ...(matte ? { matte } : {}),
    };
  }

  private picture(entry: PictureEntry): { picture: Picture; changes: readonly Change[]; alpha: boolean } {
    const { frame } = this;
    if (entry.kind === 'fill') {
      const [r, g, b] = entry.colour.map((c) => valueAt(c, frame)) as [number, number, number];
      return { picture: { kind: 'fill', value: [r, g, b, valueAt(entry.alpha, frame)] }, changes: [], alpha: true };
    }
    if (entry.kind === 'pass') {
      const { source, pass } = findPass(entry, this.sources);
      const taken = dataRoles.has(pass.role) && !this.options.dataAsItIs;
      if (taken && entry.operation !== 'multiply' && entry.operation !== 'divide')
        throw new PlanError(
          `${pass.name} of ${source.name} holds ${pass.role} data, which is no light; take another pass, or correct its role in Intake.`,
        );
      return this.pass(source, pass, entry.alphaFrom);
    }
    const alpha = totalHasAlpha(entry.entries, false, frame);
    const inner: Gathering = { from: undefined, startAlpha: undefined, steps: [], alpha: false };
    this.gather(entry.entries, inner);
    // With a finish inside, it is a node of its own.
    if (inner.from === undefined)
      return { picture: { kind: 'subtotal', steps: inner.steps, alpha }, changes: [], alpha };
    return { picture: { kind: 'node', node: this.close(inner), alpha }, changes: [], alpha };
  }

  /** A pass in the working space: as it lies, or placed. */
  private pass(
    source: PlanSource,
    pass: Pass,
    alphaFrom?: string,
  ): { picture: Laid; changes: readonly Change[]; alpha: boolean } {
    const given = inputOf(source, pass, alphaFrom);
    const conversion = given.data ? [] : this.colour.conversion(source.space, this.place.working);
    const changes = conversionChange(conversion);
    const input = this.addInput(given);
    const node = this.placed(source, input, changes);
    if (node !== undefined) return { picture: { kind: 'node', node, alpha: true }, changes: [], alpha: true };
    return { picture: { kind: 'input', input }, changes, alpha: given.alpha !== undefined };
  }

  /** The node that places an input; undefined when it lies where it is. */
  private placed(source: PlanSource, input: number, changes: readonly Change[]): number | undefined {
    const { size: into } = this.options;
    const size = source.size ?? into;
    const placement = source.placement ?? centred;
    if (!into || !size) return undefined;
    const aspect = relativeAspect(source, this.sources, into);
    const same = size.width === into.width && size.height === into.height && aspect === 1;
    if (same && placement.scale === 1 && placement.shift.every((s) => s === 0)) return undefined;
    const node: PlanNode = { kind: 'place', input, changes, size, placement, aspect, into };
    return this.shared(`place ${JSON.stringify(node)}`, () => this.nodes.push(node) - 1);
  }

  private startAlpha({ sourceId, part, channel }: NonNullable<ReturnType<typeof startingAlpha>>): Planes {
    const input = this.addInput({ sourceId, part, colour: [channel, channel, channel] });
    return this.planes(sourceId, input);
  }

  private planes(sourceId: string, input: number): Planes {
    const source = this.sources.find((s) => s.id === sourceId)!;
    const node = this.placed(source, input, []);
    return node === undefined ? { kind: 'input', input } : { kind: 'node', node };
  }

  private matte(name: string): PlanMatte {
    return compileMatte(name, this.document.mattes ?? {}, this.frame, this.mattePlace, this.compiledMattes);
  }

  /** What mattes and finishes ask of sources. */
  private readonly mattePlace: PassPlace = {
    passes: (id) => {
      const source = this.sources.find((s) => s.id === id);
      if (!source) throw new Error('its source is no longer in the shot.');
      return source.passes;
    },
    planes: (wanted) => {
      if ('light' in wanted) {
        const source = this.sources.find((s) => s.id === wanted.source)!;
        return this.planes(source.id, this.addInput(inputOf(source, wanted.light)));
      }
      const { source, part, colour, alpha, data } = wanted;
      return this.planes(
        source,
        this.addInput({
          sourceId: source,
          part,
          colour,
          ...(data ? { data: true as const } : {}),
          ...(alpha === undefined ? {} : { alpha: { part, channel: alpha } }),
        }),
      );
    },
  };

  private balance(): Plan['balance'] {
    const against = this.document.balanceAgainst;
    const source = this.sources.find((s) => s.id === against?.sourceId);
    const pass = source?.passes.find((p) => p.name === against?.pass);
    if (!source || !pass) return undefined;
    const { picture, changes } = this.pass(source, pass);
    return { picture, changes };
  }

  private addInput(input: PlanInput): number {
    return this.shared(`input ${JSON.stringify(input)}`, () => this.inputs.push(input) - 1);
  }

  private shared(key: string, make: () => number): number {
    const known = this.keys.get(key);
    if (known !== undefined) return known;
    const made = make();
    this.keys.set(key, made);
    return made;
  }
}

function requireMix({ mix }: Entry, frame: number): void {
  if (valueAt(mix, frame) > 1) throw new PlanError('mix goes from 0 to 1.');
}

function findPass(entry: PassEntry, sources: readonly PlanSource[]): { source: PlanSource; pass: Pass } {
  const source = sources.find((s) => s.id === entry.sourceId);
  if (!source)
    throw new PlanError('its source is no longer in the shot; remove the entry or bring the source in again.');
  const pass = source.passes.find((p) => p.name === entry.pass);
  if (!pass) throw new PlanError(`${source.name} has no pass "${entry.pass}".`);
  return { source, pass };
}

/**
 * The planes of a pass, read as its source says: the entries' side and the beauty's side of a balance go the same way. Numbers that are no
 * light are multiplied by no alpha.
 */
function inputOf(source: PlanSource, pass: Pass, alphaFrom?: string): PlanInput {
  const { colour } = pictureChannels(pass);
  const common = { sourceId: source.id, part: pass.part };
  if (dataRoles.has(pass.role)) return { ...common, data: true, colour };
  const other = source.passes.find((p) => p.name === alphaFrom);
  const alpha = (other && ownAlpha(source, other)) ?? (pass.role === 'alpha' ? undefined : ownAlpha(source, pass));
  const straight = source.alpha === 'straight' ? ({ straight: true } as const) : {};
  return { ...common, colour, ...(alpha ? { alpha, ...straight } : {}) };
}

/** What a definition says of a pass that is not there, as a sentence of the plan. */
function inSentence<T>(make: () => T): T {
  try {
    return make();
  } catch (e) {
    throw e instanceof PlanError ? e : new PlanError((e as Error).message);
  }
}
