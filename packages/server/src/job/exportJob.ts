import { copyFile, mkdir } from 'node:fs/promises';
import { basename, dirname, join, relative } from 'node:path';
import { folderOfShot, jobOfShot, type Shot, type Source } from '@june-haze/contract';
import { writeWhole } from '@june-haze/files';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { bundlePath } from '../library/store.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import type { RunPlaces } from '../runs/runPlaces.ts';
import { folderClash } from '../shots/outputs.ts';

/**
 * Writes a shot as a job file beside its outputs, with copies of the configs and LUTs that it needs; names in it are relative to it. Returns
 * its place below the output folder. `name` and `file` are another folder and another name than the shot's own. Throws a 409 RequestError that says what of the shot a job has no word for.
 */
export async function exportJob(
  { db, media, places }: { db: Db; media: MediaFolders; places: RunPlaces },
  shot: Shot,
  name = folderOfShot(shot),
  file = `${folderOfShot(shot)}.job.json`,
): Promise<string> {
  const clash = await folderClash(db, shot);
  if (clash !== undefined) throw new RequestError(409, clash);
  const folder = join(places.outputFolder, name);
  const items = new Map<string, string>();
  const folders = new Map<string, string>();
  for (const { folder: place } of shot.sources) if (!folders.has(place)) folders.set(place, await media.locate(place));
  const exported = jobOfShot(shot, {
    pattern: ({ folder: place }: Source, pattern) => relative(folder, join(folders.get(place)!, pattern)),
    output: ({ pattern }) => relative(folder, join(places.outputFolder, pattern)),
    item(id) {
      items.set(id, `${basename(name)}.job/${id}.zip`);
      return items.get(id)!;
    },
  });
  if ('unsaid' in exported)
    throw new RequestError(409, `This shot cannot be written as a job. ${exported.unsaid.join(' ')}`);
  for (const [id, path] of items) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await copyFile(bundlePath(places.libraryFolder, id), join(folder, path));
  }
  await mkdir(folder, { recursive: true });
  const bytes = new TextEncoder().encode(`${JSON.stringify(exported.job, null, 2)}\n`);
  await writeWhole(join(folder, file), (sink) => sink.write(0, bytes));
  return `${name}/${file}`;
}
