import {
  describeSource,
  frameProblems,
  isBroken,
  meaningProblems,
  shapeProblems,
  usualFacts,
  valueProblems,
  type Evidence,
  type LookedMaterial,
} from '@june-haze/core';
import { sourceFactsSchema, type SourceFacts } from '@june-haze/contract';
import { RequestError } from '../errors.ts';

/** What is kept of a look at a source's files; `guess` is the likeliest space. */
export interface Examined {
  readonly facts: SourceFacts;
  readonly guess: string | undefined;
}

/**
 * A look at material in the form that is stored. Frames of a movie count from 1. Throws a 400 RequestError with the first file's sentence
 * when nothing of it can be read.
 */
export function storedFacts(material: LookedMaterial, more: (pattern: string) => readonly Evidence[]): Examined {
  const source = describeSource(material, '', more);
  const { facts } = source;
  const looks = material.members.flatMap((m) => m.looks);
  if (!facts) {
    const fault = looks.find((l) => 'fault' in l);
    const said = fault && 'fault' in fault ? fault.fault.message : undefined;
    throw new RequestError(400, said ?? `${material.pattern} holds nothing that can be read.`);
  }
  const read = looks.flatMap((l) => ('facts' in l ? [l.facts] : []));
  const times = read.map((f) => f.modifiedAt);
  const usual = material.members.map((m) => usualFacts(m.looks));
  const set = material.members.length > 1;
  const stored: SourceFacts = {
    firstFrame: source.frames[0],
    lastFrame: source.frames[1],
    still: source.kind === 'still',
    missing: [...source.missing],
    damaged: looks.filter(isBroken).map((l) => ({
      frame: l.frame,
      message:
        'fault' in l
          ? l.fault.message
          : `${l.file}: frame ${l.frame} ends early, ${Math.floor(l.facts.readable * 100)} % of it can be read; render it again.`,
    })),
    width: source.width,
    height: source.height,
    rate: source.rate,
    compression: source.codec,
    sampleType: source.sampleType,
    bytesPerFrame:
      source.kind === 'movie' ? facts.bytes / (facts.frames ?? 1) : usual.reduce((n, f) => n + (f?.bytes ?? 0), 0),
    passes: source.passes.map((p) => ({
      name: p.name,
      role: p.role,
      part: p.part,
      channels: passChannels(material, p.pattern, p.channels),
    })),
    attributes: { ...facts.attributes },
    layout: usual.flatMap((f, i) =>
      f ? [set ? `${material.members[i]!.pass}: ${f.layout.join('; ')}` : f.layout.join('; ')] : [],
    ),
    ...(set
      ? {
          files: material.members.map((m, i) => ({
            pattern: m.sequence.pattern,
            pass: m.pass ?? '',
            parts: usual[i]?.parts ?? 1,
            still: m.sequence.frames.length === 0,
          })),
        }
      : {}),
    evidence: source.space.evidence.map((e) => ({ ...e })),
    confidence: source.space.confidence,
    fileKind: facts.kind,
    step: source.step,
    view: source.view,
    version: source.version,
    versions: material.versions,
    pixelAspect: source.pixelAspect,
    rateFrom: facts.rateFrom,
    timecode: facts.timecode,
    alpha: source.alpha,
    range: facts.range,
    notes: [...facts.notes],
    dataWindow: facts.dataWindow,
    displayWindow: facts.displayWindow,
    firstTime: times.length ? Math.min(...times) : null,
    lastTime: times.length ? Math.max(...times) : null,
    growing: looks.filter((l) => 'fault' in l && l.fault.kind === 'growing').map((l) => l.frame),
    traits: source.traits,
    measuredFrames: [...source.measuredFrames],
    measuredFull: source.measuredFull,
    prints: source.prints.map((p) => ({ frame: p.frame, values: [...p.values] })),
    findings: [
      ...frameProblems(material, source),
      ...shapeProblems(material, source),
      ...valueProblems(material, source),
      ...meaningProblems(material, source),
    ].map((p) => ({ ...p, frames: [...p.frames] })),
  };
  // Half a frame of NaN in JSON would be null: what is stored must read back as it was.
  return { facts: sourceFactsSchema.parse(stored), guess: source.space.guess };
}

function passChannels(
  material: LookedMaterial,
  pattern: string,
  names: readonly string[],
): SourceFacts['passes'][number]['channels'] {
  const member = material.members.find((m) => m.sequence.pattern === pattern)!;
  const all = usualFacts(member.looks)!.passes.flatMap((p) => p.channels);
  return names.map((name) => ({ ...all.find((c) => c.name === name)! }));
}
