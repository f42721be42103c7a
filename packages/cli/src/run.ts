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
  const range = /^(-?\d{1,7})(?:-(-?\d{1,7}))?$/.exec(options.frames ?? '');
  if (options.frames !== undefined && !range)
    throw new Error(`"${options.frames}" is no range of frames; write 1001-1024.`);
  const pool = new ComputePool(join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs'), threads);
  const report = ({ output, frames }: OutputReport) => {
    if (options.json) process.stdout.write(`${JSON.stringify({ output, frames })}\n`);
    else for (const f of frames) if (f.ok) process.stdout.write(`${f.file}\n`);
    for (const f of frames) if (!f.ok) process.stderr.write(`june: ${output}, frame ${f.frame}: ${f.message}\n`);
  };
  try {
    const settings = {
      overwrite: options.overwrite === true,
      ...(options.output === undefined ? {} : { output: options.output }),
      ...(options.to === undefined ? {} : { to: options.to }),
      ...(range ? { frames: [Number(range[1]), Number(range[2] ?? range[1])] as const } : {}),
    };
    if (!(await runJob(path, settings, pool, report))) process.exitCode = 1;
  } finally {
    await pool.close();
  }
}
