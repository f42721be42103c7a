import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { builtinColour, displayCodes, undoneDisplay } from '@june-haze/core';
import {
  countOfFrames,
  holdsPictures,
  sizeOfOutput,
  type Run,
  type Shot,
  type WrittenHandOver,
} from '@june-haze/contract';
import { writeWhole } from '@june-haze/files';
import type { Context } from '../context.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { exportJob } from '../job/exportJob.ts';
import { wholeRecipe } from '../runs/wholeRecipe.ts';
import { lookName } from '../shots/outputs.ts';
import { requireShot } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';
import { ledgerWords } from './ledgerWords.ts';
import { handOverPage, type HandOver } from './page.ts';
import { readItAs, type SeenThrough } from './readItAs.ts';

/** The page of a run, below the output folder. */
export const handOverPlace = ({ pattern }: Pick<RunRecipe, 'pattern'>): string => `${baseOf(pattern)}.html`;

/** The name of a run's files without frame and ending. */
const baseOf = (pattern: string) =>
  pattern
    .replaceAll('{pass}', 'passes')
    .replace(/\.[^.]+$/, '')
    .replace(/[._]?#+$/, '');

/**
 * Writes the hand-over of a finished run beside its files: a page for people, and a job file of what they were made from, as it was frozen when
 * the run began. Throws a RequestError for a run that is not over or no longer kept.
 */
export async function writeHandOver(context: Context, runId: string): Promise<WrittenHandOver> {
  const { db, places } = context;
  const row = await db
    .selectFrom('runs')
    .innerJoin('outputs', 'outputs.id', 'runs.output_id')
    .where('runs.id', '=', runId)
    .select(['runs.recipe', 'outputs.shot_id'])
    .executeTakeFirst();
  if (!row) throw new RequestError(404, 'This run is no longer kept.');
  const shot = await readShot(db, await requireShot(db, row.shot_id), context.checks);
  const run = shot.runs.find((r) => r.id === runId);
  if (!run || run.state !== 'done') throw new RequestError(409, 'Only files that were all written are handed over.');
  const recipe = wholeRecipe(row.recipe);
  const base = baseOf(recipe.pattern);
  const job = await exportJob(context, asThen(shot, run, recipe), dirname(base), `${basename(base)}.job.json`).then(
    (place) => ({ name: basename(place), place }),
    (error: unknown) => {
      if (error instanceof RequestError) return { unsaid: error.message };
      throw error;
    },
  );
  const page = handOverPage(await handOverOf(context, shot, run, recipe, job));
  const place = handOverPlace(recipe);
  await writeWhole(join(places.outputFolder, place), (sink) => sink.write(0, new TextEncoder().encode(page)));
  return {
    page: place,
    job: 'place' in job ? job.place : null,
    unsaid: 'unsaid' in job ? job.unsaid : null,
  };
}

/** The shot as it was when a run began, with the one output that the run wrote. */
function asThen(shot: Shot, run: Run, recipe: RunRecipe): Shot {
  const said = new Map((recipe.declared ?? []).map((d) => [d.id, d]));
  return {
    ...shot,
    ledger: { ...shot.ledger, document: recipe.document },
    workingSpace: recipe.workingSpace,
    viewing: recipe.viewing,
    colour: recipe.colour ?? builtinColour,
    rate: recipe.rate,
    firstFrame: recipe.settings.firstFrame,
    lastFrame: recipe.settings.lastFrame,
    width: recipe.width,
    height: recipe.height,
    sources: shot.sources.map((s) => {
      const was = said.get(s.id);
      return was ? { ...s, declaredSpace: was.space, reading: was.reading } : s;
    }),
    outputs: [{ ...recipe.settings, id: run.outputId, pattern: recipe.pattern }],
  };
}

async function handOverOf(
  context: Context,
  shot: Shot,
  run: Run,
  recipe: RunRecipe,
  job: HandOver['job'],
): Promise<HandOver> {
  const { settings, rate } = recipe;
  const { width, height } = sizeOfOutput(settings, recipe);
  const { firstFrame, lastFrame } = settings;
  const count = countOfFrames(settings);
  const key = recipe.colour ?? builtinColour;
  const colours = await context.pool.run('writingColours', {
    colour: { key, folder: context.places.libraryFolder },
    workingSpace: recipe.workingSpace,
    viewing: recipe.viewing,
  });
  const config = await configWords(context, key.config);
  const seen: SeenThrough = {
    workingSpace: recipe.workingSpace,
    viewing: { ...recipe.viewing, look: lookName(recipe.viewing) },
    config,
    codes: holdsPictures(settings) ? (settings.codes ?? colours.display) : undefined,
  };
  const proved = run.frames.every((f) => f.readBack?.proved);
  const worst = run.frames.reduce((a, b) =>
    (b.readBack?.tagged.maxCode ?? 0) > (a.readBack?.tagged.maxCode ?? 0) ? b : a,
  );
  const alpha = run.frames.some((f) => f.readBack?.alpha !== null && f.readBack?.alpha !== undefined);
  return {
    shot: shot.name,
    output: settings.name,
    finished: (run.finishedAt ?? run.startedAt).slice(0, 16).replace('T', ' ') + ' UTC',
    files: basename(recipe.pattern),
    frames: `${firstFrame} to ${lastFrame}${settings.step > 1 ? `, one of every ${settings.step}` : ''}, ${count} ${count === 1 ? 'frame' : 'frames'}, ${(count / rate).toFixed(2)} s`,
    rate: `${rate} frames a second`,
    size: `${width} × ${height}${settings.kind === 'sheet' ? ' for each picture on the sheet' : ''}`,
    alphaAndSpace: readItAs(settings, seen, alpha),
    tags: run.frames[0]?.readBack?.tags ?? 'nothing that was read',
    proof: {
      proved,
      words: `${count} ${count === 1 ? 'frame' : 'frames'} decoded again by their own tags; worst is frame ${worst.frame}: ${worst.readBack?.judged ?? 'not read back'}.`,
    },
    accepted: (recipe.accepted ?? []).map((a) => [a.text, a.reason] as const),
    changedSince: run.changedSince,
    pictures: await picturesOf(context, run),
    sources: sourceRows(shot, recipe),
    ledger: ledgerWords(recipe.document.entries),
    renderer: shot.match.note ?? '',
    colour: [
      ['Config', config],
      ...Object.entries(key.variables).map(([name, value]) => [`Variable ${name}`, value] as const),
      ['Working space', recipe.workingSpace],
      ['View', `${recipe.viewing.display} / ${recipe.viewing.view}`],
      ['Look', seen.viewing.look ?? 'none'],
      ...(seen.codes ? [['Codes', displayCodes[seen.codes].name] as const] : []),
    ],
    stages: (['intake', 'match', 'build', 'output'] as const).map((stage) => [
      `${stage[0]!.toUpperCase()}${stage.slice(1)}`,
      shot.proofs[stage].figure,
    ]),
    job,
  };
}

/** A config by its name and the hash of its content. */
async function configWords({ db }: Context, id: string | null): Promise<string> {
  if (id === null) return 'the colours that are built in';
  const item = await db.selectFrom('library_items').select('name').where('id', '=', id).executeTakeFirst();
  return `the config ${item?.name ?? 'that is gone from the Library'} (content ${id})`;
}

const titles = { shown: 'As shown', tagged: 'Read by its tags', ignoring: 'Read without its tags' } as const;

async function picturesOf({ places }: Context, run: Run): Promise<HandOver['pictures']> {
  const readBack = run.frames[0]?.readBack;
  const found: { title: string; words: string; url: string }[] = [];
  for (const name of ['shown', 'tagged', 'ignoring'] as const) {
    const path = join(places.proofFolder, run.id, `${name}.png`);
    if (!existsSync(path)) continue;
    const figures = name === 'shown' ? undefined : readBack?.[name];
    found.push({
      title: titles[name],
      words: figures
        ? `largest difference ${figures.maxCode} of 255, CIEDE2000 mean ${figures.deltaE.mean.toFixed(2)}, at most ${figures.deltaE.max.toFixed(2)}`
        : `frame ${run.frames[0]!.frame}`,
      url: `data:image/png;base64,${(await readFile(path)).toString('base64')}`,
    });
  }
  return found;
}

function sourceRows(shot: Shot, { declared = [] }: RunRecipe): HandOver['sources'] {
  return declared.map((d) => {
    const source = shot.sources.find((s) => s.id === d.id);
    const space =
      d.space === null ? 'not declared' : undoneDisplay(d.space) ? `${d.space} (a view taken back)` : d.space;
    return {
      files: d.place ?? source?.pattern ?? 'a source that is gone',
      frames: source ? (source.still ? 'a still' : `${source.firstFrame} to ${source.lastFrame}`) : '',
      space,
      confirmed: !source?.confirmed ? 'nobody' : (source.confirmedBy ?? 'a person'),
      hash: hashOf(d.files),
    };
  });
}

/** The hash alone: what is kept begins with the place that stands in a column of its own. */
const hashOf = (files = '') => files.split(' ').at(-1)!;
