const f = Math.fround;

/** Where x lies in a table: the cell and the fraction within it; NaN lies at the start. */
function locate(x: number, last: number, out: { cell: number; t: number }): void {
  const scaled = f(x * last);
  const low = 0 < scaled ? scaled : 0;
  const at = last < low ? last : low;
  out.cell = Math.min(Math.trunc(at), Math.max(last - 1, 0));
  out.t = f(at - out.cell);
}

const real = new Float32Array(1);
const bits = new Int32Array(real.buffer);

/** The value between entries that stand at every 2^shift-th float from the one with the bits `first`. */
export function entryBetween(entries: Float32Array, x: number, first: number, shift: number): number {
  real[0] = x;
  const cell = (bits[0]! - first) >>> shift;
  const mask = (1 << shift) - 1;
  const t = f((bits[0]! & mask) / (mask + 1));
  const from = entries[cell]!;
  return f(from + f(t * f(entries[cell + 1]! - from)));
}

/** Twins of kernels/tables.ts. */
export function twinTables(heap: () => ArrayBuffer) {
  const where = [0, 1, 2].map(() => ({ cell: 0, t: 0 }));
  const [wr, wg, wb] = where as [{ cell: number; t: number }, { cell: number; t: number }, { cell: number; t: number }];
  const between = (a: number, b: number, t: number) => f(a + f(t * f(b - a)));

  /** Runs `mix` over every pixel, with its cell's low corner in the lattice and the strides in floats. */
  function lattice(
    [r, g, b]: readonly [number, number, number],
    n: number,
    cube: number,
    size: number,
    mix: (v: Float32Array, at: number, channel: number) => number,
  ): void {
    const planes = [r, g, b].map((p) => new Float32Array(heap(), p, n));
    const values = new Float32Array(heap(), cube, size ** 3 * 4);
    for (let i = 0; i < n; i++) {
      planes.forEach((plane, c) => locate(plane[i]!, size - 1, where[c]!));
      const at = ((wb.cell * size + wg.cell) * size + wr.cell) * 4;
      for (let c = 0; c < 3; c++) planes[c]![i] = mix(values, at + c, c);
    }
  }

  return {
    curveTable(
      p: number,
      n: number,
      table: number,
      first: number,
      shift: number,
      low: number,
      high: number,
      straight: number,
      held: number,
      offset: number,
    ): void {
      const plane = new Float32Array(heap(), p, n);
      const entries = new Float32Array(heap(), table);
      const [lowest, highest, constant, added] = [f(low), f(high), f(held), f(offset)];
      for (let i = 0; i < n; i++) {
        const x = plane[i]!;
        if (x < lowest) plane[i] = straight ? f(constant * x) + added : constant;
        else if (x <= highest) plane[i] = entryBetween(entries, x, first, shift);
      }
    },
    anyAbove(p: number, n: number, high: number): number {
      const limit = f(high);
      return new Float32Array(heap(), p, n).some((x) => !(x <= limit)) ? 1 : 0;
    },
    tablePlane(p: number, n: number, table: number, count: number): void {
      const plane = new Float32Array(heap(), p, n);
      const values = new Float32Array(heap(), table, count);
      for (let i = 0; i < n; i++) {
        locate(plane[i]!, count - 1, wr);
        const a = values[wr.cell]!;
        plane[i] = between(a, count > 1 ? values[wr.cell + 1]! : a, wr.t);
      }
    },
    cubeTetrahedral(r: number, g: number, b: number, n: number, cube: number, size: number): void {
      const [sr, sg, sb] = [4, size * 4, size * size * 4];
      lattice([r, g, b], n, cube, size, (v, at) => {
        const axes: [number, number][] = [
          [wr.t, sr],
          [wg.t, sg],
          [wb.t, sb],
        ];
        // A stable sort: equal fractions have weight 0 between them, so their order does not matter but for that.
        axes.sort((x, y) => y[0] - x[0]);
        const [[high, first], [middle, next], [low]] = axes as [[number, number], [number, number], [number, number]];
        let out = f(v[at]! * f(1 - high));
        out = f(out + f(v[at + first]! * f(high - middle)));
        out = f(out + f(v[at + first + next]! * f(middle - low)));
        return f(out + f(v[at + sr + sg + sb]! * low));
      });
    },
    cubeTrilinear(r: number, g: number, b: number, n: number, cube: number, size: number): void {
      const [sg, sb] = [size * 4, size * size * 4];
      lattice([r, g, b], n, cube, size, (v, at) => {
        const edge = (from: number) => between(v[from]!, v[from + 4]!, wr.t);
        return between(between(edge(at), edge(at + sg), wg.t), between(edge(at + sb), edge(at + sb + sg), wg.t), wb.t);
      });
    },
  };
}
