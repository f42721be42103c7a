// Tern, the stand-in renderer: `tern.mjs FOLDER [--shot landing] [--frames 24] [--width 960] [--height 540] [--workers 2]`.
// Prints one JSON line per finished frame. Frames that are already there are kept.
import { existsSync, mkdirSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { Worker } from 'node:worker_threads';
import { kettleFile } from './shots/kettle.ts';
import { landingFile } from './shots/landing.ts';
import { lastBoatFile } from './shots/lastBoat.ts';
import { shotNames, type FrameTask } from './shots/task.ts';
import { saveConfig } from './tern/save.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    shot: { type: 'string', default: 'landing' },
    frames: { type: 'string', default: '24' },
    first: { type: 'string', default: '1001' },
    width: { type: 'string', default: '960' },
    height: { type: 'string', default: '540' },
    workers: { type: 'string', default: String(Math.max(1, cpus().length)) },
  },
});
const folder = positionals[0];
if (!folder) {
  console.error('tern: say which folder the frames go to.');
  process.exit(2);
}
mkdirSync(folder, { recursive: true });
const shot = shotNames.find((s) => s === values.shot);
if (!shot) {
  console.error(`tern: there is no shot ${values.shot}; there are ${shotNames.join(', ')}.`);
  process.exit(2);
}
const fileOf = { landing: landingFile, kettle: kettleFile, lastboat: lastBoatFile }[shot];
if (shot === 'landing') await saveConfig(join(folder, 'tern'));
const first = Number(values.first);
const count = Number(values.frames);
const tasks = Array.from({ length: count }, (_, i): FrameTask => ({
  shot,
  folder,
  frame: first + i,
  first,
  count,
  width: Number(values.width),
  height: Number(values.height),
}));
const waiting = tasks.filter((t) => !existsSync(join(folder, fileOf(t.frame))));
let done = count - waiting.length;
const say = (line: object) => process.stdout.write(`${JSON.stringify(line)}\n`);
say({ done, count });

for (let i = 0; i < Math.min(Number(values.workers), waiting.length); i++) {
  const worker = new Worker(new URL('./tern-worker.mjs', import.meta.url));
  const next = () => {
    const task = waiting.shift();
    if (task) worker.postMessage(task);
    else void worker.terminate();
  };
  worker.on('message', (message: { frame: number; error?: string }) => {
    if (message.error) {
      console.error(`tern: frame ${message.frame}: ${message.error}`);
      process.exitCode = 1;
    } else say({ frame: message.frame, done: ++done, count });
    next();
  });
  next();
}
