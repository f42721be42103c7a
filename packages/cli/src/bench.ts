import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ComputePool, decodeShared } from '@june-haze/server';

interface DecodeOptions {
  part: string;
  channels?: string;
  threads: string;
  runs: string;
  json?: boolean;
}

/** Decodes channels of a file again and again on worker threads; the first time, which starts and warms them, does not count. */
export async function benchDecode(path: string, options: DecodeOptions): Promise<void> {
  const threads = Number(options.threads);
  const count = Number(options.runs);
  if (!(threads >= 1 && threads <= 64 && count >= 1)) throw new Error('Threads and runs are whole numbers from 1.');
  const pool = new ComputePool(join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs'), threads);
  try {
    const request = {
      path,
      name: path,
      part: Number(options.part),
      over: 'data window' as const,
      ...(options.channels ? { channels: options.channels.split(',') } : {}),
    };
    const runs: number[] = [];
    let bytes = 0;
    for (let i = 0; i <= count; i++) {
      const started = performance.now();
      const { planes, missing } = await decodeShared(pool, request);
      if (missing.length) throw new Error(`${path}: some lines cannot be read; "june verify" tells which.`);
      if (i > 0) runs.push(performance.now() - started);
      bytes = Object.values(planes).reduce((n, p) => n + p.byteLength, 0);
    }
    const megabytes = bytes / 1e6;
    if (options.json) process.stdout.write(`${JSON.stringify({ runs, threads, megabytes })}\n`);
    else
      process.stdout.write(
        `${Math.min(...runs).toFixed(1)} ms at best of ${count}, ${megabytes.toFixed(1)} MB, ${threads} threads\n`,
      );
  } finally {
    await pool.close();
  }
}
