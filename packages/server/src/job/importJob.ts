import { copyFile, mkdir, readdir, realpath, rm } from 'node:fs/promises';
import { basename, dirname, join, normalize, sep } from 'node:path';
import { ledgerOfImport, settingsOfJobOutput, type Job, type Viewing } from '@june-haze/contract';
import { temporaryName } from '@june-haze/files';
import { lookFilesOf } from '@june-haze/core';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { bringIn } from '../intake/bringIn.ts';
import { changeFacts } from '../intake/changeFacts.ts';
import { addItem, changeItem, requireItem } from '../library/items.ts';
import { changeShot } from '../shots/changeShot.ts';
import { saveLedger } from '../shots/ledger.ts';
import { createShot } from '../shots/shotRows.ts';
import { besideJob, JobError } from './jobFiles.ts';
import { readJob } from './openJob.ts';

/** So many jobs are listed. */
const mostListed = 200;

/** Job files that lie beside outputs: their places below the output folder. */
export async function listJobs(outputFolder: string): Promise<string[]> {
  const folders = await readdir(outputFolder, { withFileTypes: true }).catch(() => []);
  const found: string[] = [];
  for (const folder of folders.filter((f) => f.isDirectory()).slice(0, 1000)) {
    const names = await readdir(join(outputFolder, folder.name)).catch(() => []);
    found.push(...names.filter((n) => n.endsWith('.job.json')).map((n) => `${folder.name}/${n}`));
  }
  return found.sort().slice(0, mostListed);
}

/**
 * Makes a shot of a job file, which lies beside outputs or in the media folders; its sources must lie in the media folders. Returns the shot's
 * id and sentences for what of the job the application does not have. Throws a RequestError with its sentence; nothing is left behind then.
 */
export async function importJob(context: Context, place: string): Promise<{ id: string; notices: string[] }> {
  const { db } = context;
  const path = await locateJob(context, place);
  const job = await readJob(path).catch((error: unknown) => {
    throw error instanceof JobError ? new RequestError(400, error.message.replace(path, place)) : error;
  });
  const id = await createShot(
    db,
    basename(place)
      .replace(/(\.job)?\.json$/, '')
      .slice(0, 80) || 'Job',
  );
  try {
    return { id, notices: await fill(context, id, job, dirname(path)) };
  } catch (error) {
    await db.deleteFrom('shots').where('id', '=', id).execute();
    throw error;
  }
}

async function fill(context: Context, id: string, job: Job, folder: string): Promise<string[]> {
  const { db, pool, places, checks } = context;
  const sources = await bringSources(context, id, job, folder);
  const items = await bringItems(context, job, folder);
  await changeShot({ db, pool, libraryFolder: places.libraryFolder }, id, {
    ...(job.config === null ? {} : { config: items.get(job.config)!, variables: job.variables }),
  });
  const document = ledgerOfImport(job, sources, items);
  await saveLedger(db, id, 0, document, 'from a job file');
  const { viewing } = job;
  const seen = viewing && (await viewingOf(db, viewing, items));
  await changeShot({ db, pool, libraryFolder: places.libraryFolder }, id, {
    rate: job.rate,
    workingSpace: job.working,
    ...(job.rendererNote ? { match: { note: job.rendererNote } } : {}),
    ...(seen ? { viewing: seen } : {}),
  });
  const notices: string[] = [];
  for (const output of job.outputs) {
    const settings = settingsOfJobOutput(output, job, (name) => sources.get(name) ?? name);
    if (!settings)
      notices.push(`The output ${output.name} is of a kind that Output does not have; it stays in the job.`);
    else
      await db
        .insertInto('outputs')
        .values({ shot_id: id, settings: JSON.stringify(settings) })
        .execute();
  }
  for (const source of sources.values()) checks.begin(source);
  return notices;
}

/** A job's viewing with files as the Library knows them. */
async function viewingOf(
  db: Context['db'],
  viewing: NonNullable<Job['viewing']>,
  items: ReadonlyMap<string, string>,
): Promise<Viewing> {
  const { display, look, exposure, black, white, gamma, lookFile } = viewing;
  const kept = lookFile && { ...lookFile, id: items.get(lookFile.id)! };
  const view = await showView(db, viewing, items);
  return { display, view, look, exposure, black, white, gamma, lookFile: kept };
}

/** The view as the Library knows it: a show LUT that is new there becomes one, under the job's name for it or its own. */
async function showView(
  db: Context['db'],
  viewing: NonNullable<Job['viewing']>,
  items: ReadonlyMap<string, string>,
): Promise<string> {
  if (!viewing.viewLut) return viewing.view;
  const { id: file, from, encoding } = viewing.viewLut;
  const item = await requireItem(db, items.get(file)!);
  const same = item.use?.as === 'view' && item.use.from === from && item.use.encoding === encoding;
  // What a LUT is to other shots is not changed by a job; as a look it is known by its id, whatever else it is.
  if (!same && item.use?.as !== 'look')
    throw new RequestError(409, `viewing.viewLut: ${item.name} is something else in the Library already.`);
  if (!same) await changeItem(db, item.id, { use: { as: 'view', from, encoding } });
  return item.name;
}

/** Brings a job's sources in; returns their ids by the job's names. */
async function bringSources(context: Context, shot: string, job: Job, folder: string): Promise<Map<string, string>> {
  const { db, media } = context;
  const ids = new Map<string, string>();
  for (const [name, settings] of Object.entries(job.sources)) {
    const path = normalize(besideJob(folder, settings.pattern));
    const place = await media.placeOf(dirname(path));
    if (place === undefined)
      throw new RequestError(400, `sources.${name}: ${settings.pattern} is not inside the media folders.`);
    const [id] = (
      await bringIn({ ...context, libraryFolder: context.places.libraryFolder }, shot, place, [basename(path)])
    ).ids;
    const { roles = {} } = settings;
    await db.transaction().execute((t) =>
      changeFacts(t, id!, (found) => ({
        ...found,
        passes: found.passes.map((p) => ({ ...p, role: roles[p.name] ?? p.role })),
      })),
    );
    const { facts } = await db.selectFrom('sources').select('facts').where('id', '=', id!).executeTakeFirstOrThrow();
    const { alpha, offset, missing: onFault, placement, speed, beyond } = settings;
    const lies = placement.scale === 1 && placement.shift.every((s) => s === 0);
    const reading = {
      ...(alpha === facts.alpha ? {} : { alpha }),
      ...(offset === 0 ? {} : { firstFrame: facts.firstFrame - offset }),
      ...(lies ? {} : { placement }),
      onFault,
      speed,
      beyond,
    };
    await db
      .updateTable('sources')
      .set({ declared_space: settings.space, confirmed: true, confirmed_by: null, reading: JSON.stringify(reading) })
      .where('id', '=', id!)
      .execute();
    ids.set(name, id!);
  }
  return ids;
}

/** Keeps a job's config, LUTs and CDLs in the Library; returns their ids by the job's names. */
async function bringItems({ db, pool, places }: Context, job: Job, folder: string): Promise<Map<string, string>> {
  const looks = [
    ...lookFilesOf(ledgerOfImport(job, new Map(), new Map())),
    job.viewing?.lookFile?.id,
    job.viewing?.viewLut?.id,
  ];
  const named = new Set([job.config, ...looks].filter((n): n is string => typeof n === 'string'));
  const ids = new Map<string, string>();
  for (const name of named) {
    await mkdir(places.libraryFolder, { recursive: true });
    const path = join(places.libraryFolder, temporaryName('dropped'));
    try {
      await copyFile(await insideFolder(folder, name), path);
      ids.set(
        name,
        await addItem(db, name, await pool.run('keepDropped', { name, path, folder: places.libraryFolder })),
      );
    } finally {
      await rm(path, { force: true });
    }
  }
  return ids;
}

/** The real path of a file that lies in a job's own folder or below it: nothing else of the machine is read. */
async function insideFolder(folder: string, name: string): Promise<string> {
  const [real, top] = await Promise.all([realpath(besideJob(folder, name)), realpath(folder)]).catch(() => {
    throw new RequestError(400, `${name}: there is no such file beside the job.`);
  });
  if (!real.startsWith(top + sep)) throw new RequestError(400, `${name} does not lie beside the job.`);
  return real;
}

async function locateJob({ media, places }: Context, place: string): Promise<string> {
  if (!place.endsWith('.json')) throw new RequestError(400, `"${place}" is no job file: those end in .json.`);
  const [root, ...inner] = place.split('/');
  if (root !== basename(places.outputFolder) || inner.includes('..')) return media.locate(place);
  const [real, folder] = await Promise.all([
    realpath(join(places.outputFolder, ...inner)),
    realpath(places.outputFolder),
  ]).catch(() => {
    throw new RequestError(404, `"${place}" is not there.`);
  });
  if (!real.startsWith(folder + sep)) throw new RequestError(400, `"${place}" leads outside the output folder.`);
  return real;
}
