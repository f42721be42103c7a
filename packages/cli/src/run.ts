import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ComputePool, runJob, type OutputReport } from '@june-haze/server/compute';

interface RunCommandOptions {
  output?: string;
  frames?: string;
  to?: string;
  threads?: string;
  overwrite?: boolean;
  json?: boolean;
}

/** `june run`: the job of a file. One line a fault on standard error; the exit status is 1 when a frame could not be written. */
export async function run(path: string, options: RunCommandOptions): Promise<void> {
  const threads = Number(options.threads ?? Math.max(1, availableParallelism()));
  if (!(Number.isInteger(threads) && threads >= 1 && threads <= 256)) throw new Error('Threads go from 1 to 256.');
  const pool = new ComputePool(join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs'), threads);
  try {
    if (!(await runWith(path, options, pool, process))) process.exitCode = 1;
  } finally {
    await pool.close();
  }
}

/** Does a job with a pool and says what became of it; returns whether every frame was written. */
export async function runWith(
  path: string,
  options: RunCommandOptions,
  pool: Pick<ComputePool, 'run' | 'threads'>,
  say: { readonly stdout: { write(text: string): unknown }; readonly stderr: { write(text: string): unknown } },
): Promise<boolean> {
  const range = /^(-?\d{1,7})(?:-(-?\d{1,7}))?$/.exec(options.frames ?? '');
  if (options.frames !== undefined && !range)
    throw new Error(`"${options.frames}" is no range of frames; write 1001-1024.`);
  const report = ({ output, frames }: OutputReport) => {
    if (options.json) say.stdout.write(`${JSON.stringify({ output, frames })}\n`);
    // A movie's frames are one file.
    else for (const file of new Set(frames.filter((f) => f.ok).map((f) => f.file))) say.stdout.write(`${file}\n`);
    for (const f of frames) if (!f.ok) say.stderr.write(`june: ${output}, frame ${f.frame}: ${f.message}\n`);
  };
  const settings = {
    overwrite: options.overwrite === true,
    ...(options.output === undefined ? {} : { output: options.output }),
    ...(options.to === undefined ? {} : { to: options.to }),
    ...(range ? { frames: [Number(range[1]), Number(range[2] ?? range[1])] as const } : {}),
  };
  return runJob(path, settings, pool, report);
}
