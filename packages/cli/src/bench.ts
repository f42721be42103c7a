import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Heap, kernels, prepareSteps } from '@june-haze/core';
import { openConfig } from '@june-haze/files';
import { ComputePool, decodeShared, type DecodedPart } from '@june-haze/server/compute';
import { stepsOf } from './colour.ts';

interface DecodeOptions {
  part: string;
  channels?: string;
  threads: string;
  runs: string;
  json?: boolean;
}

/** Decodes channels of a file again and again on worker threads, into planes that stay; the first time, which starts and warms them, does not count. */
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
    let into: DecodedPart['planes'] | undefined;
    for (let i = 0; i <= count; i++) {
      const started = performance.now();
      const { planes, missing } = await decodeShared(pool, into ? { ...request, into } : request);
      into = planes;
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

interface ViewOptions {
  config: string;
  look?: string;
  from: string;
  to?: string;
  display?: string;
  view?: string;
  size: string;
  threads: string;
  runs: string;
  json?: boolean;
}

/** Runs a colour processor over planes of floats in memory, in bands as the viewer does; one thread. */
export function benchView(options: ViewOptions): Promise<void> {
  const size = /^(\d+)x(\d+)$/.exec(options.size);
  const count = Number(options.runs);
  if (!size || !(count >= 1)) throw new Error('A size is written 1920x1080; runs are whole numbers from 1.');
  if (Number(options.threads) !== 1)
    throw new Error('A view is timed on one thread; each further one takes its own rows.');
  const config = options.config === 'builtin' ? undefined : openConfig(options.config);
  const wanted = options.to ? options : { display: 'sRGB', view: 'ACES SDR', ...options };
  const steps = stepsOf(wanted, config);
  const pixels = Number(size[1]) * Number(size[2]);
  const picture = Array.from({ length: 3 }, (_, c) =>
    Float32Array.from({ length: pixels }, (__, i) => ((i * (c + 3)) % 1009) / 300),
  );
  const heap = new Heap(kernels());
  const processor = prepareSteps(steps, heap);
  const band = 16384;
  const planes = picture.map(() => heap.allocatePlane(band));
  const runs: number[] = [];
  for (let r = 0; r <= count; r++) {
    const started = performance.now();
    for (let at = 0; at < pixels; at += band) {
      const n = Math.min(band, pixels - at);
      picture.forEach((p, c) => heap.floats(planes[c]!, n).set(p.subarray(at, at + n)));
      processor(planes[0]!, planes[1]!, planes[2]!, n);
    }
    if (r > 0) runs.push(performance.now() - started);
  }
  if (options.json) process.stdout.write(`${JSON.stringify({ runs, threads: 1, megabytes: (pixels * 12) / 1e6 })}\n`);
  else
    process.stdout.write(
      `${Math.min(...runs).toFixed(1)} ms at best of ${count}, ${((Math.min(...runs) * 1e6) / pixels).toFixed(1)} ns a pixel\n`,
    );
  return Promise.resolve();
}
