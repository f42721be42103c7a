import { benchLedger } from '@june-haze/server';
import { withEngine } from './render.ts';

interface LedgerOptions {
  frame?: string;
  size?: string;
  runs: string;
  json?: boolean;
}

/** `june bench ledger`: a shot's ledger over one whole frame, from planes in memory. */
export async function bench(shot: string, options: LedgerOptions): Promise<void> {
  const size = options.size === undefined ? undefined : /^(\d{1,5})x(\d{1,5})$/.exec(options.size);
  const runs = Number(options.runs);
  if (size === null || !(Number.isInteger(runs) && runs >= 1))
    throw new Error('A size is written 1920x1080; runs are whole numbers from 1.');
  const frame = options.frame === undefined ? undefined : Number(options.frame);
  if (frame !== undefined && !Number.isInteger(frame)) throw new Error(`"${options.frame}" is no frame.`);
  await withEngine(async (engine) => {
    const found = await benchLedger(engine, shot, {
      runs,
      ...(frame === undefined ? {} : { frame }),
      ...(size ? { size: { width: Number(size[1]), height: Number(size[2]) } } : {}),
    });
    if (options.json) process.stdout.write(`${JSON.stringify(found)}\n`);
    else
      process.stdout.write(
        `${Math.min(...found.runs).toFixed(1)} ms at best of ${runs}, ${found.entries} entries, ${found.width}x${found.height}, one thread\n`,
      );
  });
}
