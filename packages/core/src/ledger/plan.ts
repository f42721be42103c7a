import { diagonal3 } from '../colour/matrix.ts';
import { UnknownNameError } from '../colour/spaces.ts';
import { mergeSteps, type ColourStep } from '../colour/steps.ts';
import { ColourFileError } from '../config/place.ts';
import { ShotColour } from '../config/shotColour.ts';
import { dataRoles, pictureChannels, type Pass } from '../sequence/passes.ts';
import { ownAlpha, startingAlpha, totalHasAlpha } from './alpha.ts';
import type { BakedLook, Entry, LedgerDocument, Operation, PassEntry } from './document.ts';
import type { PlanSource } from './planSource.ts';

/** Planes that a plan needs: three colour channels and, when `alpha` is given, a fourth. */
export interface PlanInput {
  readonly sourceId: string;
  readonly part: number;
  /** Numbers that are no light: a smaller level takes samples as they are and never averages. */
  readonly data?: true;
  readonly colour: readonly [string, string, string];
  readonly alpha?: { readonly part: number; readonly channel: string };
  /** The colour is not multiplied by alpha yet. */
  readonly straight?: true;
}

export type PlanStep =
  | { readonly kind: 'open' }
  | {
      readonly kind: 'input';
      readonly entry: number;
      readonly input: number;
      readonly colour: readonly ColourStep[];
      readonly operation: Operation;
      readonly mix: number;
    }
  | {
      readonly kind: 'fill';
      readonly entry: number;
      /** Not premultiplied. */
      readonly value: readonly [number, number, number, number];
      readonly colour: readonly ColourStep[];
      readonly operation: Operation;
      readonly mix: number;
    }
  | {
      readonly kind: 'close';
      readonly entry: number;
      /** The subtotal has alpha of its own; without it covers wholly. */
      readonly alpha: boolean;
      readonly colour: readonly ColourStep[];
      readonly operation: Operation;
      readonly mix: number;
    };

/** A ledger compiled to a flat list. JSON, so that it travels to workers as it is. */
export interface Plan {
  readonly inputs: readonly PlanInput[];
  readonly steps: readonly PlanStep[];
  /** Ids of the entries that act, in order; `entry` in steps is an index here. */
  readonly entryIds: readonly string[];
  /** Weights of the working space's luminance, for shares. */
  readonly luminance: readonly [number, number, number];
  /** The input whose alpha the total begins with. */
  readonly startAlpha?: number;
  /** Whether the total has alpha at the end; without, it covers: alpha is 1 everywhere. */
  readonly hasAlpha: boolean;
  /** Index of the input that the total is balanced against, and the steps that bring it to the working space. */
  readonly balance?: { readonly input: number; readonly colour: readonly ColourStep[] };
}

/** A ledger that cannot be evaluated: the message names the entry and what it lacks. */
export class PlanError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'PlanError';
  }
}

/**
 * Compiles a ledger: conversions and adjustments fold into one matrix, disabled and zero-mix entries vanish, equal
 * inputs are shared. Throws a PlanError for an entry whose source or pass is gone, or that takes data for light: a depth or an ID
 * may multiply, never be added, taken away or laid over.
 */
export function compilePlan(
  document: LedgerDocument,
  sources: readonly PlanSource[],
  workingSpace: string,
  colour: ShotColour = new ShotColour(),
): Plan {
  const inputs: PlanInput[] = [];
  const keys: string[] = [];
  const steps: PlanStep[] = [];
  const entryIds: string[] = [];

  const addInput = (input: PlanInput): number => {
    const key = JSON.stringify(input);
    const known = keys.indexOf(key);
    if (known >= 0) return known;
    keys.push(key);
    return inputs.push(input) - 1;
  };

  const visit = (entry: Entry): void => {
    if (!entry.enabled || entry.mix === 0) return;
    const { operation, mix } = entry;
    const number = entryIds.push(entry.id) - 1;
    const change = adjustmentSteps(entry, workingSpace, colour);
    if (entry.kind === 'subtotal') {
      steps.push({ kind: 'open' });
      entry.entries.forEach(visit);
      const alpha = totalHasAlpha(entry.entries, false);
      steps.push({ kind: 'close', entry: number, alpha, colour: change, operation, mix });
    } else if (entry.kind === 'fill') {
      const value = [...entry.colour, entry.alpha] as const;
      steps.push({ kind: 'fill', entry: number, value, colour: change, operation, mix });
    } else {
      const { source, pass } = findPass(entry, sources);
      const data = dataRoles.has(pass.role);
      if (data && operation !== 'multiply')
        throw new PlanError(
          `Entry "${entry.name}": ${pass.name} of ${source.name} holds ${pass.role} data, which is no light; take another pass, or correct its role in Intake.`,
        );
      const intoWorking = data ? [] : colour.conversion(source.space, workingSpace);
      const input = addInput(inputOf(source, pass, entry.alphaFrom));
      steps.push({
        kind: 'input',
        entry: number,
        input,
        colour: mergeSteps([...intoWorking, ...change]),
        operation,
        mix,
      });
    }
  };
  document.entries.forEach(visit);
  const start = startingAlpha(document, sources);
  return {
    inputs,
    steps,
    entryIds,
    luminance: colour.luminance(workingSpace),
    hasAlpha: totalHasAlpha(document.entries, start !== undefined),
    ...(start ? { startAlpha: addInput(alphaAlone(start)) } : {}),
    balance: balanceInput(),
  };

  function balanceInput(): Plan['balance'] {
    const against = document.balanceAgainst;
    const source = sources.find((s) => s.id === against?.sourceId);
    const pass = source?.passes.find((p) => p.name === against?.pass);
    if (!source || !pass) return undefined;
    return { input: addInput(inputOf(source, pass)), colour: colour.conversion(source.space, workingSpace) };
  }
}

/** An input of nothing but an alpha. */
function alphaAlone({ sourceId, part, channel }: NonNullable<ReturnType<typeof startingAlpha>>): PlanInput {
  return { sourceId, part, colour: [channel, channel, channel] };
}

function findPass(entry: PassEntry, sources: readonly PlanSource[]): { source: PlanSource; pass: Pass } {
  const source = sources.find((s) => s.id === entry.sourceId);
  if (!source)
    throw new PlanError(
      `Entry "${entry.name}": its source is no longer in the shot; remove the entry or bring the source in again.`,
    );
  const pass = source.passes.find((p) => p.name === entry.pass);
  if (!pass) throw new PlanError(`Entry "${entry.name}": ${source.name} has no pass "${entry.pass}".`);
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

/** An entry's adjustments in order; neighbouring multiplications become one. */
function adjustmentSteps(entry: Entry, workingSpace: string, colour: ShotColour): ColourStep[] {
  const scale = (r: number, g: number, b: number): ColourStep[] =>
    r === 1 && g === 1 && b === 1 ? [] : [{ kind: 'matrix', matrix: diagonal3(r, g, b) }];
  const steps = entry.adjustments.flatMap((a): ColourStep[] => {
    if (!a.enabled) return [];
    switch (a.kind) {
      case 'exposure':
        return scale(2 ** a.stops, 2 ** a.stops, 2 ** a.stops);
      case 'gain':
        return scale(a.red, a.green, a.blue);
      case 'look':
        return bakedSteps(entry, a, workingSpace, colour);
    }
  });
  return mergeSteps(steps);
}

function bakedSteps(entry: Entry, look: BakedLook, workingSpace: string, colour: ShotColour): ColourStep[] {
  try {
    return colour.lookInPlace(workingSpace, look);
  } catch (e) {
    if (e instanceof UnknownNameError || e instanceof ColourFileError)
      throw new PlanError(`Entry "${entry.name}", its look: ${e.message}`);
    throw e;
  }
}
