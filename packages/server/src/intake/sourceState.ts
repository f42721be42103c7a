import { createHash } from 'node:crypto';
import {
  agrees,
  betweenSources,
  colourProblems,
  framesInShot,
  isInteger,
  shotFramesShowing,
  weighEvidence,
  type Evidence,
  type Problem,
} from '@june-haze/core';
import {
  sourceFactsSchema,
  sourceReadingSchema,
  type Check,
  type ListedProblem,
  type Source,
  type SourceFacts,
} from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Database } from '../database/tables.ts';
import { offsetOf, pacingOf } from './frameFiles.ts';

export type SourceRow = Selectable<Database['sources']>;

/** How a source's alpha is read: as a person said, else as its files say. */
export const alphaOf = ({ facts, reading }: Pick<SourceRow, 'facts' | 'reading'>) => reading?.alpha ?? facts.alpha;

/** A source as the interface has it: read as the person said, with its problems but for those between sources. */
export function describeSource(row: SourceRow, check?: Check): Source {
  const facts = sourceFactsSchema.parse(row.facts);
  const reading = sourceReadingSchema.parse(row.reading ?? {});
  const { findings } = facts;
  const offset = offsetOf({ facts, reading });
  const pacing = pacingOf(reading);
  const firstFrame = facts.firstFrame + offset;
  const shown = (frames: readonly number[]) => shotFramesShowing(new Set(frames), facts, firstFrame, pacing);
  const declared = row.declared_space;
  const alpha = alphaOf(row);
  const source: Source = {
    ...withoutWorkings(facts),
    id: row.id,
    name: row.pattern,
    folder: row.folder,
    pattern: row.pattern,
    firstFrame,
    lastFrame: firstFrame + framesInShot(facts, pacing) - 1,
    step: pacing.speed === 1 ? facts.step : 1,
    missing: shown(facts.missing),
    damaged: facts.damaged.flatMap((d) => shown([d.frame]).map((frame) => ({ ...d, frame }))),
    growing: shown(facts.growing),
    rate: reading.rate ?? facts.rate,
    pixelAspect: reading.pixelAspect ?? facts.pixelAspect,
    alpha,
    range: reading.range ?? facts.range,
    evidence: facts.evidence.map((e) => ({ ...e, agrees: declared ? agrees(e as Evidence, declared) : undefined })),
    declaredSpace: declared,
    confirmed: row.confirmed,
    confirmedBy: row.confirmed_by,
    reading,
    offset,
    stored: {
      rate: facts.rate,
      firstFrame: facts.firstFrame,
      pixelAspect: facts.pixelAspect,
      alpha: facts.alpha,
      range: facts.range,
    },
    check: check ?? restingCheck(row),
    stamp: createHash('sha1')
      .update(JSON.stringify([row.stamp, row.folder, row.pattern, reading, facts.missing, facts.damaged, facts.files]))
      .digest('base64url')
      .slice(0, 16),
    problems: [],
  };
  const found: Problem[] = [
    // What soft edges look like is held against what the person says of alpha.
    ...findings.filter((f) => f.kind !== 'alpha-mismatch' || alpha === facts.alpha),
    ...(reading.use === 'reference' ? [] : colourFindings(source)),
  ];
  source.problems = list(found, row);
  return source;
}

/** Facts without what only the server works with. */
function withoutWorkings(facts: SourceFacts): Omit<SourceFacts, 'findings' | 'prints'> {
  const kept: Partial<SourceFacts> = { ...facts };
  delete kept.findings;
  delete kept.prints;
  return kept as SourceFacts;
}

function restingCheck(row: SourceRow): Check {
  if (row.check_failure) return { stage: 'failed', done: 0, count: 0, message: row.check_failure };
  return { stage: row.checked_at ? 'done' : 'waiting', done: 0, count: 0, message: null };
}

function colourFindings(source: Source): Problem[] {
  const evidence = source.evidence as Evidence[];
  return colourProblems(
    {
      id: source.id,
      space: { ...weighEvidence(evidence), evidence },
      traits: source.traits,
      sampleType: source.sampleType as 'half',
      measuredFrames: source.measuredFrames,
      measuredFull: source.measuredFull,
      fileKind: source.fileKind,
    },
    source.declaredSpace ?? undefined,
    source.confirmed,
  );
}

/** A key that stays when the same fault is found again. */
export const problemKey = (p: Pick<Problem, 'kind' | 'pass' | 'file'>): string =>
  [p.kind, p.pass ?? '', p.file ?? ''].join('/');

function list(problems: readonly Problem[], row: SourceRow): ListedProblem[] {
  return problems.map((p) => ({
    ...p,
    source: row.id,
    frames: [...p.frames],
    key: problemKey(p),
    silenced: (row.silenced ?? {})[problemKey(p)] ?? null,
  }));
}

/** Adds to each source what is wrong between them and against the shot's rate. References may have any size and rate. */
export function addProblemsBetween(sources: Source[], rows: readonly SourceRow[], rate: number): void {
  const compared = sources
    .filter((s) => s.reading.use === 'plate')
    .map((s) => ({
      id: s.id,
      name: s.name,
      kind: s.fileKind === 'movie' ? ('movie' as const) : s.still ? ('still' as const) : ('sequence' as const),
      fileKind: s.fileKind,
      frames: [s.firstFrame, s.lastFrame] as const,
      rate: s.rate,
      passes: s.passes,
      sampleType: s.sampleType,
      // Who confirmed that a picture is encoded has settled it.
      prints: s.confirmed && isInteger(s) ? [] : (rows.find((r) => r.id === s.id)!.facts.prints ?? []),
      space: { guess: s.declaredSpace ?? undefined },
      displayWindow: s.displayWindow ?? { xMin: 0, yMin: 0, xMax: s.width - 1, yMax: s.height - 1 },
    }));
  for (const p of betweenSources(compared, rate)) {
    const at = sources.findIndex((s) => s.id === p.source);
    if (!sources[at]?.problems.some((had) => had.kind === p.kind && had.pass === p.pass))
      sources[at]?.problems.push(...list([p], rows[at]!));
  }
}
