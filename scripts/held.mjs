// Holds speeds: the ratios of some benchmarks to their reference libraries, each measured in this run, against those that stand in
// docs/performance.md under "Held". One that is worse by more than half is measured again, a few times, and fails when it stays so. Nothing else may run.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildBench } from './bench.mjs';
import { root } from './paths.mjs';

const worst = 1.5;
/** So often what seems slower is measured again. */
const mostAgain = 3;

/** The rows of the table: names and ratios. */
export function heldRatios(text) {
  const [, section = ''] = /^## Held\n([\s\S]*?)(?=^## |$(?![\s\S]))/m.exec(text) ?? [];
  const rows = [...section.matchAll(/^\| ([^|]+?) +\| ([\d.]+) +\|$/gm)];
  return new Map(rows.map(([, name, ratio]) => [name, Number(ratio)]));
}

/** What is worse than it may be, in words. */
export function slower(held, measured) {
  const missing = [...held.keys()].filter((name) => !measured.has(name)).map((name) => `${name}: not measured`);
  const slow = [...measured].flatMap(([name, ratio]) => {
    const known = held.get(name);
    if (known === undefined) return [`${name}: it has no row in docs/performance.md`];
    return ratio > known * worst ? [`${name}: ${ratio.toFixed(2)} of the reference’s time, ${known} is held`] : [];
  });
  return [...missing, ...slow];
}

/** The ratios of one benchmark. */
function measure(program, args) {
  const said = execFileSync(process.execPath, [program, ...args], { cwd: root, encoding: 'utf8' });
  return new Map(
    said
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line))
      .map(({ bench, ratio }) => [bench, ratio]),
  );
}

if (process.argv[1]?.endsWith('scripts/held.mjs')) {
  const held = heldRatios(readFileSync(join(root, 'docs/performance.md'), 'utf8'));
  const least = new Map();
  for (const [file, ...args] of [['decode.ts', 'ratios'], ['view.ts']]) {
    const program = await buildBench(file);
    const keep = (measured) => measured.forEach((r, name) => least.set(name, Math.min(r, least.get(name) ?? Infinity)));
    const first = measure(program, args);
    keep(first);
    const own = new Map([...held].filter(([name]) => first.has(name)));
    const best = () => new Map([...own.keys()].map((name) => [name, least.get(name)]));
    // A shared machine has its moments: while something seems slower it is measured again.
    for (let again = 0; again < mostAgain && slower(own, best()).length; again++) keep(measure(program, args));
  }
  for (const [name, ratio] of least)
    console.log(`  ${name}: ${ratio.toFixed(2)} (held: ${held.get(name) ?? 'nothing'})`);
  const told = slower(held, least);
  for (const words of told) console.log(`  SLOWER ${words}`);
  process.exitCode = told.length ? 1 : 0;
}
