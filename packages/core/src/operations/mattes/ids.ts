import { idHash } from '../../matte/idHash.ts';
import type { Pass } from '../../sequence/passes.ts';
import { name } from '../parameters.ts';
import { matte } from '../matte.ts';

export const ids = matte({
  kind: 'ids',
  title: 'IDs',
  does: 'How much of each pixel the named things cover: the sum of their coverages over all ranks.',
  published: 'Cryptomatte specification 1.2: ranked pairs of ID and coverage, names hashed by MurmurHash3',
  search: ['object', 'material', 'matte', 'select'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Pass', ['id-matte']),
    names: { type: 'names', title: 'Names', default: [], pick: 'ids' },
  },
  planes({ source, pass }, place) {
    const ranks = ranksOf(place.passes(source), pass);
    if (!ranks.length) throw new Error(`there are no ID passes "${pass}00", "${pass}01" ….`);
    return ranks.map((rank) => {
      const [id, coverage, secondId, secondCoverage] = ['R', 'G', 'B', 'A'].map(
        (c) => rank.channels.find((x) => x.component.toUpperCase() === c)?.name,
      );
      if (!id || !coverage) throw new Error(`the pass ${rank.name} is no pair of ID and coverage.`);
      return {
        source,
        part: rank.part,
        colour: [id, coverage, secondId ?? coverage] as const,
        ...(secondId && secondCoverage ? { alpha: secondCoverage } : {}),
        data: true,
      };
    });
  },
  run({ heap, n, to, planes, values }) {
    const sum = heap.floats(to, n);
    sum.fill(0);
    const wanted = new Set(values.names.map((each) => idHash(each).float));
    for (const [id, coverage, secondId, secondCoverage] of planes) {
      addCoverage(sum, heap.floats(id, n), heap.floats(coverage, n), wanted);
      addCoverage(sum, heap.floats(secondId, n), heap.floats(secondCoverage, n), wanted);
    }
  },
});

/** The passes of a manifest's name by rank: NAME00, NAME01 … */
function ranksOf(passes: readonly Pass[], pass: string): Pass[] {
  const rank = (p: Pass) => (p.name.startsWith(pass) ? /^\d+$/.exec(p.name.slice(pass.length))?.[0] : undefined);
  return passes.filter((p) => rank(p) !== undefined).sort((a, b) => Number(rank(a)) - Number(rank(b)));
}

function addCoverage(sum: Float32Array, id: Float32Array, coverage: Float32Array, wanted: ReadonlySet<number>): void {
  for (let i = 0; i < sum.length; i++) if (wanted.has(id[i]!)) sum[i] = sum[i]! + coverage[i]!;
}
