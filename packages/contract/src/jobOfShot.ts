import {
  adjustmentsOf,
  findLutView,
  guessRole,
  isLutDisplay,
  lutDisplay,
  ownAlpha,
  planSource,
  sourcesOf,
  startingAlpha,
  undoneName,
  walkEntries,
  type Entry,
  type LedgerDocument,
  type LookFile,
  type Matte,
} from '@june-haze/core';
import { jobSchema, whyNoJob, type Job } from './job.ts';
import { sourcesOfOutput } from './outputMakes.ts';
import { holdsPictures } from './output.ts';
import { jobOutputOf } from './outputsAsJobs.ts';
import type { Shot } from './shot.ts';
import type { Source } from './source.ts';

/** Where the files of a job lie, as it names them. */
export interface JobPlaces {
  /** Of a source's files, those of its pattern or of one of its passes. */
  pattern(source: Source, pattern: string): string;
  output(output: Shot['outputs'][number]): string;
  /** A config, LUT or CDL of the Library, by its id. */
  item(id: string): string;
}

/** A shot as a job, or why it cannot be one: a sentence for each thing that a job has no word for. */
export type ExportedJob = { readonly job: Job } | { readonly unsaid: readonly string[] };

/** Says a shot as a job: the same pixels, without the application. References and what is not used are left out. */
export function jobOfShot(shot: Shot, places: JobPlaces): ExportedJob {
  const { document } = shot.ledger;
  const sources = usedSources(shot);
  const names = namesOf(sources);
  const unsaid = [...sources.flatMap(unsaidOf), ...unsaidColours(shot, sources), ...unsaidOutputs(shot)];
  const looked = <T extends LookFile | null | undefined>(lookFile: T): T =>
    lookFile ? { ...lookFile, id: places.item(lookFile.id) } : lookFile;
  const nameOf = (id: unknown) => names.get(String(id)) ?? String(id);
  const { look, lookFile, ...viewing } = shot.viewing;
  const seen = picturesLook(shot) === false ? { look: null, lookFile: null } : { look, lookFile: looked(lookFile) };
  const found = {
    version: 1,
    ...(shot.match.note ? { rendererNote: shot.match.note } : {}),
    frames: [shot.firstFrame, shot.lastFrame],
    rate: shot.rate,
    size: [shot.width, shot.height],
    config: shot.colour.config === null ? null : places.item(shot.colour.config),
    variables: shot.colour.variables,
    working: shot.workingSpace,
    viewing: { ...viewing, ...seen, viewLut: viewLut(shot, places) },
    sources: Object.fromEntries(sources.map((s) => [nameOf(s.id), jobSource(s, places)])),
    alphaFrom: alphaFrom(shot, nameOf),
    entries: document.entries.map((e) => jobEntry(e, nameOf, looked)),
    mattes: Object.fromEntries(Object.entries(document.mattes ?? {}).map(([n, m]) => [n, jobMatte(m, nameOf)])),
    outputs: shot.outputs.map((o) =>
      jobOutputOf(o, { ...shot, frames: [shot.firstFrame, shot.lastFrame], pattern: places.output(o), nameOf }),
    ),
  };
  const why = whyNoJob(found);
  if (why !== undefined) unsaid.push(`${why}.`.replace(/\.\.$/, '.'));
  return unsaid.length ? { unsaid } : { job: jobSchema.parse(found) };
}

/** The sources that the ledger reads, in the order of the shot. */
function usedSources(shot: Shot): Source[] {
  const used = new Set(shot.outputs.flatMap((o) => [...sourcesOfOutput(o, shot.ledger.document)]));
  for (const id of sourcesOf(shot.ledger.document)) used.add(id);
  return shot.sources.filter((s) => used.has(s.id));
}

/** Names for sources: what their patterns begin with, numbered where two are alike. */
function namesOf(sources: readonly Source[]): Map<string, string> {
  const names = new Map<string, string>();
  for (const { id, pattern } of sources) {
    const own =
      pattern
        .split('/')
        .at(-1)!
        .replace(/[._-]*\{pass\}/, '')
        .replace(/[._-]*#+.*$|\.\w+$/, '') || 'source';
    const taken = new Set(names.values());
    let name = own;
    for (let n = 2; taken.has(name); n++) name = `${own}_${n}`;
    names.set(id, name);
  }
  return names;
}

function jobSource(source: Source, places: JobPlaces): object {
  const { reading, alpha, offset, declaredSpace, name, passes } = source;
  const files = filesByPass(source);
  const roles = Object.fromEntries(passes.filter((p) => p.role !== guessRole(p.name)).map((p) => [p.name, p.role]));
  return {
    pattern: places.pattern(source, source.pattern),
    ...(files
      ? { files: Object.fromEntries(files.map(([pass, pattern]) => [pass, places.pattern(source, pattern)])) }
      : {}),
    ...(Object.keys(roles).length ? { roles } : {}),
    space: planSource({ ...source, id: name, name, declaredSpace, passes, alpha }).space,
    alpha,
    // A job adds to the frame; a shot's offset is what the file's number lacks.
    offset: -offset,
    ...(reading.placement ? { placement: reading.placement } : {}),
    missing: reading.onFault,
    speed: reading.speed,
    beyond: reading.beyond,
  };
}

/** A source's files by pass, in order; undefined where one file holds all. */
const filesByPass = ({ files = [] }: Source): [pass: string, pattern: string][] | undefined =>
  files.length > 1 && files.every((f) => f.pass !== '') ? files.map(({ pass, pattern }) => [pass, pattern]) : undefined;

function unsaidOf({ name, files, reading, stored }: Source): string[] {
  return [
    // What was looked at before passes were kept with their files.
    ...(files && files.length > 1 && files.some((f) => f.pass === '')
      ? [
          `${name} was looked at by an earlier version, which did not keep its files’ passes; choose “Look at the files again” in Intake.`,
        ]
      : []),
    ...(reading.range !== null && reading.range !== stored.range
      ? [`${name} is read in another range than its files say.`]
      : []),
    ...(reading.pixelAspect !== null && reading.pixelAspect !== stored.pixelAspect
      ? [`${name} is read with another pixel aspect than its files say.`]
      : []),
  ];
}

function unsaidColours({ colour, ledger }: Shot, sources: readonly Source[]): string[] {
  const luts = [
    ...colour.conversions.map((c) => c.name),
    ...(colour.views ?? []).map((v) => undoneName(lutDisplay, v.name)),
  ];
  const used = luts.filter((name) => sources.some((s) => s.declaredSpace === name));
  // A job carries the show LUT that it is seen through; one in a row it has no word for.
  const rows = [...walkEntries(ledger.document.entries)].filter((e) =>
    adjustmentsOf(e).some((a) => 'display' in a && typeof a.display === 'string' && isLutDisplay(a.display)),
  );
  return [
    ...used.map((name) => `The space ${name} is a LUT of the Library.`),
    ...rows.map((e) => `${e.name} has a view that is a LUT of the Library.`),
  ];
}

/** The show LUT that the shot is seen through, as a file beside the job. */
function viewLut({ colour, viewing }: Shot, places: JobPlaces): object | null {
  const found = isLutDisplay(viewing.display) ? findLutView(colour.views ?? [], viewing.view) : undefined;
  return found ? { id: places.item(found.id), from: found.from, encoding: found.encoding } : null;
}

/** Whether pictures carry the viewing's look; undefined where it has none or no picture is written. */
function picturesLook({ outputs, viewing }: Shot): boolean | undefined {
  const pictures = outputs.filter(holdsPictures);
  return pictures.length && (viewing.look || viewing.lookFile) ? pictures.some((o) => o.bakeLook) : undefined;
}

function unsaidOutputs(shot: Shot): string[] {
  const bare = shot.outputs.some((o) => holdsPictures(o) && !o.bakeLook);
  return picturesLook(shot) && bare ? ['Some pictures carry the viewing’s look and some do not.'] : [];
}

/** The pass that the total's alpha begins with, named where the shot finds it by itself. */
function alphaFrom(shot: Shot, nameOf: (id: unknown) => string): { source: string; pass: string } | null {
  const sources = shot.sources.map(planSource);
  const starts = startingAlpha(shot.ledger.document, sources, shot.firstFrame);
  const source = sources.find((s) => s.id === starts?.sourceId);
  const pass = source?.passes.find((p) => {
    const own = ownAlpha(source, p);
    return own?.part === starts!.part && own.channel === starts!.channel;
  });
  return source && pass ? { source: nameOf(source.id), pass: pass.name } : null;
}

type Looked = <T extends LookFile | null | undefined>(lookFile: T) => T;

function jobEntry(entry: Entry, nameOf: (id: unknown) => string, looked: Looked): object {
  const { sourceId, entries, ...rest } = entry as Entry & { sourceId?: string; entries?: readonly Entry[] };
  const kept: Record<string, unknown> = rest;
  delete kept.id;
  delete kept.note;
  const adjustments = adjustmentsOf(entry).map((a) => ('lookFile' in a ? { ...a, lookFile: looked(a.lookFile) } : a));
  return {
    ...kept,
    ...(sourceId === undefined ? {} : { source: nameOf(sourceId) }),
    ...('source' in entry ? { source: nameOf(entry.source) } : {}),
    ...('adjustments' in entry ? { adjustments } : {}),
    ...(entries ? { entries: entries.map((e) => jobEntry(e, nameOf, looked)) } : {}),
  };
}

const jobMatte = (matte: Matte, nameOf: (id: unknown) => string): object =>
  'source' in matte ? { ...matte, source: nameOf(matte.source) } : matte;

/** A job's ledger as a shot keeps it: sources and files of the Library by their ids. */
export function ledgerOfImport(
  job: Job,
  sources: ReadonlyMap<string, string>,
  items: ReadonlyMap<string, string>,
): LedgerDocument {
  let made = 0;
  const looked: Looked = (lookFile) =>
    lookFile ? { ...lookFile, id: items.get(lookFile.id) ?? lookFile.id } : lookFile;
  const one = (found: unknown): Entry => {
    const { source, entries, name, adjustments, ...rest } = found as Record<string, unknown>;
    const id = source === undefined ? undefined : (sources.get(String(source)) ?? String(source));
    const called = [name, rest.pass, rest.finish, rest.kind].find((n) => typeof n === 'string');
    return {
      ...rest,
      id: `e${++made}`,
      name: String(called).slice(0, 200),
      ...(id === undefined ? {} : rest.kind === 'finish' ? { source: id } : { sourceId: id }),
      ...(Array.isArray(adjustments)
        ? {
            adjustments: adjustments.map((a: { lookFile?: LookFile }) =>
              a.lookFile ? { ...a, lookFile: looked(a.lookFile) } : a,
            ),
          }
        : {}),
      ...(Array.isArray(entries) ? { entries: entries.map(one) } : {}),
    } as unknown as Entry;
  };
  const matte = (m: Matte): Matte =>
    'source' in m ? ({ ...m, source: sources.get(String(m.source)) ?? String(m.source) } as Matte) : m;
  const { alphaFrom: from } = job;
  return {
    version: 2,
    entries: job.entries.map(one),
    mattes: Object.fromEntries(Object.entries(job.mattes).map(([n, m]) => [n, matte(m)])),
    alphaFrom: from && { sourceId: sources.get(from.source) ?? from.source, pass: from.pass },
  };
}
