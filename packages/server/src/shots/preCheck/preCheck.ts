import { bakedLooks, shareWords, walkEntries } from '@june-haze/core';
import {
  countOfFrames,
  holdsDeepSamples,
  holdsPictures,
  sizeOfOutput,
  type Accepted,
  type OutputSettings,
  type PreCheckItem,
  type Run,
  type Shot,
} from '@june-haze/contract';
import type { WritingColours } from '../../compute/colourTasks.ts';
import { filesInTheWay } from '../outputs.ts';
import { lightItems } from './lightItems.ts';
import { note, stop, warning, type Asked } from './lines.ts';
import { movieItems } from './movieItems.ts';
import { nameItems, sizeItems } from './nameAndSizeItems.ts';
import { passesItems } from './passesItems.ts';
import { pictureItems } from './pictureItems.ts';
import { sheetItems } from './sheetItems.ts';
import { sourceItems } from './sourceItems.ts';

/** Bytes of an output's files if none of them could be packed at all: an alpha is reckoned with. */
function largestSize(shot: Shot, settings: OutputSettings): number {
  const { kind, sampleType, bits } = settings;
  const { width, height } = sizeOfOutput(settings, shot);
  if (kind === 'passes') return width * height * 4 * channelsOf(shot, settings) * countOfFrames(settings);
  const light = !holdsPictures(settings);
  const sample = light ? (kind === 'exr' && sampleType === 'float' ? 4 : 2) : holdsDeepSamples(kind) ? bits / 8 : 1;
  return width * height * (light ? 4 : 3) * sample * countOfFrames(settings);
}

const channelsOf = (shot: Shot, { passes, mattes }: OutputSettings): number =>
  passes.reduce(
    (n, { sourceId, pass }) =>
      n + (shot.sources.find((s) => s.id === sourceId)?.passes.find((p) => p.name === pass)?.channels.length ?? 0),
    mattes.length,
  );

const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(bytes < 1e9 ? 2 : 1)} GB`;

/** What a person should know before files are written: what stops it, what is worth a second look, and what will be. */
export function preCheck(
  shot: Shot,
  settings: OutputSettings,
  pattern: string,
  outputFolder: string,
  colours: WritingColours,
  {
    clash,
    free,
    accepted = [],
    last,
    threads = 1,
  }: {
    readonly clash?: string | undefined;
    readonly free?: number | undefined;
    readonly accepted?: readonly Accepted[];
    /** The output's last run, which tells how long frames take; files are there while it writes them. */
    readonly last?: Run | undefined;
    readonly threads?: number;
  } = {},
): { items: PreCheckItem[]; existing: number } {
  const asked = { shot, settings, colours };
  const passes = settings.kind === 'passes';
  const { document } = shot.ledger;
  const entries = [...walkEntries(document.entries)].filter((e) => e.enabled);
  const isWriting = last?.state === 'running' || last?.state === 'paused';
  const existing = isWriting ? 0 : filesInTheWay(outputFolder, pattern, settings).length;
  const off = shot.balances.filter((b) => !b.balanced).map((b) => b.share);
  const room = largestSize(shot, settings);
  const items = [
    ...(clash === undefined ? [] : [stop(clash)]),
    ...(entries.length || passes
      ? []
      : [stop('The ledger is empty: there is nothing to write. Build the picture first.')]),
    ...(settings.lastFrame < settings.firstFrame
      ? [stop(`The range ${settings.firstFrame}–${settings.lastFrame} runs backwards.`)]
      : []),
    ...nameItems(asked, pattern),
    ...(passes ? [] : sizeItems(asked)),
    ...(passes ? [] : referenceItems(asked)),
    ...sourceItems(asked),
    ...(passes ? [] : bakedLooks(document)).map(({ entry, look }) =>
      warning(`The look ${look} is baked into the entry ${entry}: it is in every file.`),
    ),
    ...(passes ? passesItems(asked) : holdsPictures(settings) ? pictureItems(asked) : lightItems(asked)),
    ...(settings.kind === 'movie' ? movieItems(asked) : settings.kind === 'sheet' ? sheetItems(asked) : []),
    ...(off.length && !passes
      ? [note(`The total differs from the beauty by ${shareWords(Math.max(...off))}, as built.`)]
      : []),
    ...(last && !isWriting ? paceItems(asked, last, threads) : []),
    ...(free !== undefined && room > free
      ? [
          warning(
            `The files may take up to ${gigabytes(room)}, and ${gigabytes(free)} are free there; a frame that is tried tells more.`,
          ),
        ]
      : []),
    ...(existing
      ? [warning(`${existing} ${existing === 1 ? 'file is' : 'files are'} already there and would be replaced.`)]
      : []),
  ];
  const answered = items.map((item) => {
    const said = item.weight === 'ask' ? accepted.find((a) => a.text === item.text) : undefined;
    return said ? { ...item, accepted: { reason: said.reason, at: said.at } } : item;
  });
  return { items: answered, existing };
}

/** A reference that the viewing of now was not held against. */
const referenceItems = ({ shot: { match } }: Asked): PreCheckItem[] =>
  match.reference !== null && !match.proof
    ? [warning('The picture was not compared with its reference since something changed; Match does it.')]
    : [];

/** How long all would take, and how large it would be, as the last run went. */
function paceItems({ settings }: Asked, { frames }: Run, threads: number): PreCheckItem[] {
  const done = frames.filter((f) => f.milliseconds !== null);
  if (!done.length) return [];
  const mean = (of: (f: Run['frames'][number]) => number | null) =>
    done.reduce((n, f) => n + (of(f) ?? 0), 0) / done.length;
  const count = countOfFrames(settings);
  const seconds = Math.ceil((count * mean((f) => f.milliseconds)) / 1000 / Math.min(threads, count));
  const megabytes = (count * mean((f) => f.bytes)) / 1e6;
  return [
    note(
      `About ${timeWords(seconds)} on ${threads} ${threads === 1 ? 'thread' : 'threads'} and ${megabytes.toFixed(megabytes < 10 ? 1 : 0)} MB, as its last run went.`,
    ),
  ];
}

const timeWords = (seconds: number): string =>
  seconds < 120
    ? `${seconds} s`
    : seconds < 7200
      ? `${Math.round(seconds / 60)} minutes`
      : `${(seconds / 3600).toFixed(1)} hours`;
