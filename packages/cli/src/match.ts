import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import {
  candidatesOf,
  findMatch,
  Heap,
  kernels,
  readLut,
  ShotColour,
  type LutView,
  type MatchRow,
  type MatchResult,
  type SearchedConfig,
} from '@june-haze/core';
import { openConfig, readCodes, readLight } from '@june-haze/files';

interface MatchOptions {
  config?: string[];
  layer?: string;
  note?: string;
  lut?: string[];
  viewLut?: string[];
  lutSpace: string;
  json?: boolean;
}

interface NamedLuts {
  /** LUTs and CDLs that may have been on as looks. */
  readonly looks?: readonly string[] | undefined;
  /** Show LUTs, which make codes of sRGB by themselves. */
  readonly views?: readonly string[] | undefined;
  /** The space whose numbers they take. */
  readonly space?: string;
}

/** The built-in config, after those that were named; LUTs go with the first of them. */
export function searchedConfigs(
  paths: readonly string[] = [],
  { looks: luts = [], views: shown = [], space = 'ACEScct' }: NamedLuts = {},
): SearchedConfig[] {
  const files = luts.map((path) => ({ id: path, name: path, space }));
  const open = (path: string) => readLut(readFileSync(path), path);
  const looks = new Map(luts.map((path) => [path, open(path)]));
  const views = shown.map((path): LutView => ({
    name: basename(path),
    from: space,
    encoding: 'srgb',
    transform: open(path),
  }));
  const own = (path: string | null, i: number): SearchedConfig => ({
    id: path,
    name: path ?? 'builtin',
    colour: new ShotColour(
      path === null ? undefined : openConfig(path),
      i === 0 ? looks : new Map(),
      [],
      i === 0 ? views : [],
    ),
    files: i === 0 ? files : [],
  });
  return [...paths.filter((p) => p !== 'builtin'), null].map(own);
}

/** What made a picture of a linear frame: the finder's ranking. Exits with 0 whatever the verdict is. */
export async function match(linear: string, reference: string, options: MatchOptions): Promise<void> {
  const heap = new Heap(kernels());
  const luts = { looks: options.lut, views: options.viewLut, space: options.lutSpace };
  const configs = searchedConfigs(options.config, luts).map((c) => candidatesOf(c, heap));
  const [{ light, chromaticities }, picture] = [
    await readLight(linear, basename(linear), options.layer),
    await readCodes(reference, basename(reference)),
  ];
  const search = findMatch({ light, picture, configs, chromaticities, note: options.note }, heap);
  let step = search.next();
  while (!step.done) step = search.next();
  const result = step.value;
  if (options.json) process.stdout.write(`${JSON.stringify(told(result))}\n`);
  else process.stdout.write(inWords(result));
}

/** The answer as `june match --json` prints it. */
function told(result: MatchResult) {
  const { verdict, explained, reason, best, ranking, ties, registration, fitness, left, tried, said } = result;
  const row = ({ configId, ...r }: MatchRow) => ({ ...r, config: configId ?? 'builtin' });
  return {
    verdict,
    best: best ? row(best) : null,
    ranking: ranking.map(row),
    ties: ties.map(row),
    explained,
    reason,
    registration,
    fitness,
    said,
    tried,
    left,
  };
}

function inWords({ verdict, reason, ranking, fitness, said, tried, left }: MatchResult): string {
  const line = (r: MatchRow) =>
    [r.space, r.display, r.view, r.look ? `look ${r.look}` : r.lookFile ? `look ${r.lookFile.name}` : undefined]
      .filter(Boolean)
      .join(' · ') + `  ${r.reason}; CIEDE2000 99 % ${r.deltaE.p99.toFixed(2)}`;
  return [
    `${verdict}: ${reason}`,
    ...(said === null ? [] : [said]),
    ...fitness.doubts.map((d) => `doubt: ${d}`),
    ...ranking.map((r, i) => `${i + 1}. ${line(r)}`),
    `${tried} combinations tried`,
    ...left.map((l) => `not tried: ${l.what}: ${l.why}`),
    '',
  ].join('\n');
}
