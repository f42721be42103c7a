import { randomUUID } from 'node:crypto';
import { BroadcastChannel } from 'node:worker_threads';
import { keyInForce, type ColourKey, type MatchResult, type Primaries } from '@june-haze/core';
import { exrChromaticities } from '@june-haze/files';
import {
  matchChoiceSchema,
  viewingSchema,
  type ApplyRow,
  type MatchBefore,
  type MatchChoice,
  type MatchProgressTold,
  type MatchState,
  type ReferenceProof,
  type Source,
  type StageProof,
} from '@june-haze/contract';
import { granted } from '../compute/ask.ts';
import type { FrameFiles } from '../compute/evaluateFrame.ts';
import { stopWord, type ConfigToSearch, type LightTask } from '../compute/matchTasks.ts';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { frameFile, type FrameFile } from '../intake/frameFiles.ts';
import { describeSource, type SourceRow } from '../intake/sourceState.ts';
import { colourKey, showLutsOf } from '../library/items.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { changeLocked } from './changeShot.ts';
import { planSourceOf } from './plan.ts';
import { forgetBalances } from './standingBalances.ts';
import { requireShot, requireSource, type ShotRow } from './shotRows.ts';

export interface MatchPlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly places: { readonly libraryFolder: string };
}

/** What is compared, chosen by a person or else by what there is: the render's beauty and the first picture used as a reference. */
interface Compared {
  readonly source: Source | undefined;
  readonly pass: string | null;
  readonly reference: Source | undefined;
  readonly frame: number;
}

function comparedOf(choice: MatchChoice, sources: readonly Source[], main: Source | undefined): Compared {
  const references = sources.filter((s) => s.reading.use === 'reference');
  const plates = sources.filter((s) => s.reading.use === 'plate');
  const source = plates.find((s) => s.id === choice.source) ?? main;
  const reference = references.find((s) => s.id === choice.reference) ?? references[0];
  const named = source?.passes.find((p) => p.name === choice.pass);
  const pass = (named ?? source?.passes.find((p) => p.role === 'beauty') ?? source?.passes[0])?.name ?? null;
  const within = (frame: number) => source !== undefined && frame >= source.firstFrame && frame <= source.lastFrame;
  const own = choice.frame ?? reference?.firstFrame ?? 0;
  return { source, pass, reference, frame: within(own) ? own : (source?.firstFrame ?? 0) };
}

/** All that a reference proof depends on, as one text. The number rises when the same pixels would be judged otherwise. */
const judgedAs = 1;
const madeFrom = (row: ShotRow, colour: ColourKey, { source, pass, reference, frame }: Compared): string =>
  JSON.stringify([
    judgedAs,
    [row.working_space, viewingSchema.parse(row.viewing), keyInForce(colour, row.viewing, source?.declaredSpace)],
    [source?.id, source?.stamp, source?.declaredSpace, source?.alpha, pass, frame],
    [reference?.id, reference?.stamp],
  ]);

/** Match in a shot as it stands. */
export async function matchState(
  db: Db,
  row: ShotRow,
  colour: ColourKey,
  sources: readonly Source[],
  main: Source | undefined,
): Promise<MatchState> {
  const choice = matchChoiceSchema.parse(row.match);
  const compared = comparedOf(choice, sources, main);
  const kept = await db.selectFrom('reference_proofs').selectAll().where('shot_id', '=', row.id).executeTakeFirst();
  return {
    source: compared.source?.id ?? null,
    pass: compared.pass,
    reference: compared.reference?.id ?? null,
    frame: compared.frame,
    note: choice.note,
    proof: kept?.made_from === madeFrom(row, colour, compared) ? kept.proof : null,
    canUndo: row.match_before !== null,
  };
}

/** The stage's proof, rolled up. */
export function matchProof({ reference, proof }: MatchState): StageProof {
  if (reference === null) return { state: 'unproved', figure: 'no reference' };
  if (!proof) return { state: 'unproved', figure: 'not yet compared' };
  const { verdict, maxCode, deltaE } = proof;
  if (verdict === 'identical') return { state: 'proved', figure: maxCode === 0 ? 'identical' : 'within 1 code value' };
  if (verdict === 'equal') return { state: 'proved', figure: 'equal to the eye' };
  return { state: 'differs', figure: `${verdict}, CIEDE2000 ${deltaE.p99.toFixed(1)}` };
}

interface OpenedLight extends LightTask {
  readonly sourceRow: SourceRow;
  readonly described: Source;
}

interface Opened extends OpenedLight {
  readonly compared: Compared;
  readonly reference: FrameFile;
}

/** The pass and frame that are compared. Throws a 400 RequestError where there is none. */
export async function openLight({ db, media }: MatchPlaces, state: MatchState): Promise<OpenedLight> {
  if (state.source === null || state.pass === null)
    throw new RequestError(400, 'There is no render to compare: bring one in at Intake.');
  const sourceRow = await requireSource(db, state.source);
  const described = describeSource(sourceRow);
  const found = described.passes.find((p) => p.name === state.pass);
  if (!found) throw new RequestError(404, `${described.name} has no pass "${state.pass}".`);
  const { name: pass, part } = found;
  const files = { [part]: await frameFile(media, sourceRow, part, state.frame) };
  return {
    sourceRow,
    described,
    source: planSourceOf(sourceRow),
    pass,
    files: { [sourceRow.id]: files } satisfies FrameFiles,
    frame: state.frame,
  };
}

/** The same, and the reference. Throws a 400 RequestError where there is none. */
export async function openCompared(context: MatchPlaces, state: MatchState): Promise<Opened> {
  const light = await openLight(context, state);
  if (state.reference === null)
    throw new RequestError(400, 'There is no reference: at Intake, use a picture from the renderer as one.');
  const row = await requireSource(context.db, state.reference);
  const reference = describeSource(row);
  return {
    ...light,
    compared: { source: light.described, reference, pass: light.pass, frame: light.frame },
    reference: await frameFile(context.media, row, 0, reference.firstFrame),
  };
}

/** Holds the frame through the present viewing against the reference, and keeps the proof unless the shot changed meanwhile. */
export async function proveReference(context: MatchPlaces, row: ShotRow, state: MatchState): Promise<ReferenceProof> {
  const { db, pool, places } = context;
  const opened = await openCompared(context, state);
  const key = await colourKey(db, row);
  const { source, pass, files, frame, reference, compared } = opened;
  const proof = granted(
    await pool.run('proveReference', {
      source,
      pass,
      files,
      frame,
      reference,
      colour: { key, folder: places.libraryFolder },
      workingSpace: row.working_space,
      viewing: viewingSchema.parse(row.viewing),
    }),
  );
  const kept = { made_from: madeFrom(row, key, compared), proof: JSON.stringify(proof) };
  await db
    .insertInto('reference_proofs')
    .values({ shot_id: row.id, ...kept })
    .onConflict((c) => c.column('shot_id').doUpdateSet(kept))
    .execute();
  return proof;
}

/** The shot's own config, the built-in one, and those of the Library. LUTs and CDLs that are looks, and show LUTs, go with the first. */
async function configsToSearch(db: Db, row: ShotRow): Promise<ConfigToSearch[]> {
  const items = await db
    .selectFrom('library_items')
    .select(['id', 'name', 'kind', 'use'])
    .orderBy('created_at')
    .execute();
  const files = items.flatMap(({ id, name, use }) => (use?.as === 'look' ? [{ id, name, space: use.space }] : []));
  const views = showLutsOf(items);
  const named = items.filter((i) => i.kind === 'config').map(({ id, name }) => ({ id, name }));
  const [own, others] = [named.filter((i) => i.id === row.config_id), named.filter((i) => i.id !== row.config_id)];
  const all = [...own, { id: null, name: 'the built-in config' }, ...others];
  return all.map(({ id, name }, i): ConfigToSearch => {
    const looks = i === 0 ? files : [];
    const variables = id === row.config_id ? row.variables : {};
    const key: ColourKey = { config: id, variables, looks: looks.map((f) => f.id), conversions: [] };
    return { id, name, key: i === 0 && views.length ? { ...key, views } : key, files: looks };
  });
}

/** Searches for what made the reference; undefined when it was stopped by `stop`. */
export async function findReference(
  context: MatchPlaces,
  row: ShotRow,
  state: MatchState,
  onProgress: (progress: MatchProgressTold) => void,
  stop: AbortSignal,
): Promise<MatchResult | undefined> {
  const { db, pool, places } = context;
  const { source, pass, files, frame, reference, sourceRow, described } = await openCompared(context, state);
  const channel = `match ${randomUUID()}`;
  const listening = new BroadcastChannel(channel);
  listening.onmessage = (message) => {
    const { data } = message as { data: MatchProgressTold | typeof stopWord };
    if (data !== stopWord) onProgress(data);
    // A search that was left before its thread began hears of it now.
    if (stop.aborted) listening.postMessage(stopWord);
  };
  const onStop = () => listening.postMessage(stopWord);
  stop.addEventListener('abort', onStop);
  try {
    return granted(
      await pool.run('findReference', {
        source,
        pass,
        files,
        frame,
        reference,
        colour: { key: await colourKey(db, row), folder: places.libraryFolder },
        workingSpace: row.working_space,
        chromaticities: await chromaticitiesOf(Object.values(files[sourceRow.id]!)[0]!, described, pass),
        configs: await configsToSearch(db, row),
        note: state.note,
        channel,
      }),
    );
  } finally {
    stop.removeEventListener('abort', onStop);
    listening.close();
  }
}

async function chromaticitiesOf(file: FrameFile, source: Source, pass: string): Promise<Primaries | undefined> {
  if (file.kind !== 'exr' || file.black) return undefined;
  const part = source.passes.find((p) => p.name === pass)!.part - file.firstPart;
  return exrChromaticities(file.path, file.name, part);
}

/** Sets a row of the finder as the shot's: config, viewing, and the space of the source. What was set before is kept, to be set again. */
export async function applyRow(
  context: MatchPlaces,
  shotId: string,
  sourceId: string | null,
  applied: ApplyRow,
  variables?: Readonly<Record<string, string>>,
): Promise<void> {
  if (sourceId === null) throw new RequestError(400, 'There is no render to compare: bring one in at Intake.');
  await context.db.transaction().execute(async (t) => {
    const row = await requireShot(t, shotId, 'locked');
    const source = await requireSource(t, sourceId);
    const before: MatchBefore = {
      config: row.config_id,
      variables: row.variables,
      viewing: viewingSchema.parse(row.viewing),
      source: source.id,
      declaredSpace: source.declared_space,
      confirmed: source.confirmed,
    };
    const { configId, space, ...viewing } = applied;
    await changeLocked(t, colourPlaces(context), row, {
      ...(configId === row.config_id ? {} : { config: configId }),
      ...(variables ? { variables } : {}),
      viewing,
    });
    await declare(t, source, space, true);
    await t
      .updateTable('shots')
      .set({ match_before: JSON.stringify(before) })
      .where('id', '=', row.id)
      .execute();
  });
}

/** Sets again what was set before a row was applied. Throws a 409 RequestError where nothing was. */
export async function undoRow(context: MatchPlaces, shotId: string): Promise<void> {
  await context.db.transaction().execute(async (t) => {
    const row = await requireShot(t, shotId, 'locked');
    const before = row.match_before;
    if (!before) throw new RequestError(409, 'There is nothing to take back.');
    const { config, variables, viewing, declaredSpace, confirmed } = before;
    await changeLocked(t, colourPlaces(context), row, { config, variables, viewing });
    // A source that is gone meanwhile has nothing to be set again.
    const source = await t.selectFrom('sources').selectAll().where('id', '=', before.source).executeTakeFirst();
    if (source) await declare(t, source, declaredSpace, confirmed);
    await t.updateTable('shots').set({ match_before: null }).where('id', '=', row.id).execute();
  });
}

const colourPlaces = ({ pool, places }: MatchPlaces) => ({ pool, libraryFolder: places.libraryFolder });

async function declare(db: Db, source: SourceRow, space: string | null, confirmed: boolean): Promise<void> {
  await db
    .updateTable('sources')
    .set({ declared_space: space, confirmed, confirmed_by: null })
    .where('id', '=', source.id)
    .execute();
  // A balance is a statement about what is declared.
  if (space !== source.declared_space) await forgetBalances(db, source.shot_id);
}
