import {
  compilePlan,
  createTwinKernels,
  createWasmKernels,
  evaluate,
  Heap,
  prepareSteps,
  requireSpace,
  ShotColour,
  viewSteps,
  type Entry,
  type InputPlanes,
  type LedgerDocument,
} from '@june-haze/core';

const width = 97;
const rows = 41;
const common = { enabled: true, operation: 'plus', mix: 1, adjustments: [] } as const;
const pass = (name: string, more: Partial<Entry> = {}) =>
  ({ ...common, id: name, name, kind: 'pass', sourceId: 's', pass: name, ...more }) as Entry;
const names = ['beauty', 'diffuse', 'specular', 'emission', 'volume', 'mist'];

/** Every operation, a subtotal, a fill, adjustments, a mix, and a change of primaries on the way in. */
const document: LedgerDocument = {
  version: 1,
  entries: [
    pass('diffuse', { adjustments: [{ kind: 'exposure', enabled: true, stops: 0.7 }] }),
    {
      ...common,
      id: 'sub',
      name: 'sub',
      kind: 'subtotal',
      mix: 0.8,
      entries: [
        pass('specular', { adjustments: [{ kind: 'gain', enabled: true, red: 1.1, green: 0.9, blue: 1.3 }] }),
        pass('emission', { operation: 'multiply', mix: 0.3 }),
      ],
    },
    pass('volume', { operation: 'minus', mix: 0.4 }),
    { ...common, id: 'fill', name: 'fill', kind: 'fill', operation: 'over', colour: [0.2, 0.4, 0.9], alpha: 0.25 },
    pass('mist', { operation: 'over' }),
  ],
  balanceAgainst: { sourceId: 's', pass: 'beauty' },
};

/** Half-float bit patterns without NaN or infinity: whose signs and payloads are the only bits that may differ. */
function halves(seed: number): Uint16Array {
  let state = seed * 2654435761;
  return Uint16Array.from({ length: width * rows }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state >>> 16) & 0xbbff;
  });
}

/** The bits of a whole ledger's float total, and of what the ACES view makes of it, by kernels and split. Runs in Node and in a page. */
export function ledgerResults(): Record<string, number[]> {
  const source = {
    id: 's',
    name: 'landing',
    space: 'Linear Rec.709',
    passes: names.map((name) => ({
      name,
      role: name as 'beauty',
      part: 0,
      channels: ['R', 'G', 'B', 'A'].map((c) => ({ component: c, name: `${name}.${c}`, type: 'half' as const })),
    })),
  };
  const plan = compilePlan(document, [source], 'ACEScg');
  const inputs = plan.inputs.map((_, i): InputPlanes => ({
    colour: [halves(i * 4 + 1), halves(i * 4 + 2), halves(i * 4 + 3)] as unknown as InputPlanes['colour'],
    alpha: halves(i * 4 + 4) as never,
  }));
  const results: Record<string, number[]> = {};
  for (const [kind, make] of [
    ['wasm', createWasmKernels],
    ['twin', createTwinKernels],
  ] as const) {
    for (const bandRows of [rows, 7, 1]) {
      const heap = new Heap(make());
      const seen = (view: string) =>
        prepareSteps(viewSteps(requireSpace('ACEScg'), { display: 'sRGB', view, exposure: 0.5 }), heap);
      const undone = (view: string) => prepareSteps(new ShotColour().undoView('ACEScg', 'sRGB', view), heap);
      // Each works on what the one before it left.
      const colours = [
        seen('ACES SDR'),
        undone('ACES SDR'),
        seen('ACES 2.0 SDR'),
        undone('ACES 2.0 SDR'),
        seen('Gentle'),
        undone('Gentle'),
      ];
      const totals = Array.from({ length: 4 + colours.length * 3 }, () => new Float32Array(width * rows));
      evaluate(plan, heap, {
        width,
        rows,
        inputs,
        bandRows,
        onBand: (row, count, quad, h) => {
          const keep = (plane: number, at: number) => totals[plane]!.set(h.floats(at, count * width), row * width);
          quad.forEach((at, c) => keep(c, at));
          colours.forEach((change, i) => {
            change(quad[0], quad[1], quad[2], count * width);
            quad.slice(0, 3).forEach((at, c) => keep(4 + i * 3 + c, at));
          });
        },
      });
      results[`${kind}, ${bandRows} rows a band`] = totals.flatMap((t) => [...new Uint32Array(t.buffer)]);
    }
  }
  return results;
}
