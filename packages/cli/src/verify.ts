import {
  asFloats,
  FormatError,
  levelBox,
  readChannels,
  tableLevels,
  tileLayout,
  type ExrFile,
  type ExrPart,
} from '@june-haze/core';
import { decodeFile, kindOfName, movieFrames, readFacts, zlibCodec } from '@june-haze/files';
import { withExr } from './samples.ts';

/** Lines read at a time: a file may be larger than memory. A multiple of every codec's lines in a chunk. */
const bandLines = 256;

interface VerifyOptions {
  json?: boolean;
  /** The job that the file was made from, and which of its frames it is. */
  job?: string;
  output?: string;
  frame?: string;
}

/** Holds a file against what a job shows; a movie frame by frame. */
async function verifyWith(path: string, job: string, options: VerifyOptions): Promise<void> {
  const frame = options.frame === undefined ? undefined : Number(options.frame);
  if (frame !== undefined && !Number.isInteger(frame)) throw new Error(`"${options.frame}" is no frame.`);
  const { verifyByJob } = await import('@june-haze/server/compute');
  const found = await verifyByJob(path, job, {
    ...(options.output === undefined ? {} : { output: options.output }),
    ...(frame === undefined ? {} : { frame }),
  });
  const failed = found.readBacks.filter((r) => !r.proved);
  if (options.json) process.stdout.write(`${JSON.stringify({ file: path, proved: !failed.length, ...found })}\n`);
  else {
    const { tags, judged } = (failed.length ? failed : found.readBacks).reduce((a, b) =>
      b.tagged.maxCode > a.tagged.maxCode ? b : a,
    );
    const of =
      found.readBacks.length > 1 ? `${found.readBacks.length} frames, ${failed.length} of them otherwise; ` : '';
    const words = failed.length ? 'reads back otherwise than the job shows it' : 'reads back as the job shows it';
    process.stdout.write(`${path}: ${words}; ${of}${judged}; ${tags}\n`);
  }
  if (failed.length) process.exitCode = 1;
}

/**
 * Reads every sample of a file: of an EXR smaller levels included, of a movie every frame. Whole means that nothing is missing. Says what its own
 * tags say of its colours, and counts what is not a finite number.
 */
export async function verify(path: string, options: VerifyOptions): Promise<void> {
  if (options.job !== undefined) return verifyWith(path, options.job, options);
  const kind = kindOfName(path);
  const result = kind === undefined || kind === 'exr' ? await verifyExr(path) : await verifyPicture(path);
  if (options.json) process.stdout.write(`${JSON.stringify(result)}\n`);
  else {
    const said = 'says' in result ? `; ${result.says.join('; ') || 'no colour tags'}` : '';
    const why = 'why' in result && result.why !== '' ? `: ${result.why}` : '';
    process.stdout.write(`${path}: ${result.whole ? 'whole' : `not whole${why}`}${said}\n`);
  }
  if (!result.whole) process.exitCode = 1;
}

function verifyExr(path: string) {
  return withExr(path, async (file) => {
    const parts = [];
    for (const part of file.parts) parts.push(await verifyPart(file, part));
    return { file: path, whole: parts.every((p) => p.missing.length === 0), parts };
  });
}

/** A picture or a movie; what cannot be opened at all is an error, what ends early is not whole. */
async function verifyPicture(path: string) {
  const facts = await readFacts(path, path);
  const says = facts.evidence.filter((e) => e.from !== 'kind of file').map((e) => `${e.from}: ${e.says}`);
  const { kind, width, height, frames } = facts;
  const counted = { frames: 0, nonFinite: 0 };
  let why = '';
  try {
    if (kind === 'movie')
      counted.frames = await countFrames(movieFrames(path, path, facts, 0, frames ?? 0, facts.range ?? 'legal'));
    else {
      const { planes } = await decodeFile(path, path, facts, 0, null);
      counted.frames = 1;
      for (const plane of Object.values(planes)) for (const x of plane) if (!Number.isFinite(x)) counted.nonFinite++;
    }
    if (kind === 'movie' && counted.frames !== frames) why = `it has ${counted.frames} frames and says ${frames}`;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    why = error.message;
  }
  return { file: path, kind, whole: why === '', why, width, height, rate: facts.rate, ...counted, says };
}

async function countFrames(frames: AsyncGenerator<unknown>): Promise<number> {
  for (let n = 0; ; n++) if ((await frames.next()).done) return n;
}

async function verifyPart(file: ExrFile, part: ExrPart) {
  const names = part.channels.map((c) => c.name);
  const layout = tileLayout(part);
  const missing: (readonly [number, number])[] = [];
  let nonFinite = 0;
  for (const level of layout ? tableLevels(layout, part.dataWindow) : [[0, 0] as const]) {
    const whole = levelBox(layout, part.dataWindow, level[0], level[1]);
    for (let top = whole.yMin; top <= whole.yMax; top += bandLines) {
      const region = { ...whole, yMin: top, yMax: Math.min(top + bandLines - 1, whole.yMax) };
      const read = await readChannels(file, part.index, names, zlibCodec, { region, level });
      missing.push(...read.missing);
      for (const plane of read.planes) for (const x of asFloats(plane)) if (!Number.isFinite(x)) nonFinite++;
    }
  }
  return { index: part.index, name: part.name, channels: names.length, missing, nonFinite };
}
