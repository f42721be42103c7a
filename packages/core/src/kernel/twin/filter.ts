const f = Math.fround;

/** Twins of kernels/filter.ts. */
export function twinFilter(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  return {
    filterRow(to: number, from: number, n: number, weights: number, reach: number): void {
      const [t, w] = [view(to, n), view(weights, reach + 1)];
      const row = view(from - reach * 4, n + 2 * reach);
      for (let x = 0; x < n; x++) {
        let sum = f(w[0]! * row[x + reach]!);
        for (let k = 1; k <= reach; k++) sum = f(sum + f(w[k]! * f(row[x + reach - k]! + row[x + reach + k]!)));
        t[x] = sum;
      }
    },
    filterColumn(to: number, rows: number, n: number, weights: number, reach: number): void {
      const [t, w] = [view(to, n), view(weights, reach + 1)];
      const pointers = new Uint32Array(heap(), rows, 2 * reach + 1);
      const lines = Array.from(pointers, (p) => view(p, n));
      for (let x = 0; x < n; x++) {
        let sum = f(w[0]! * lines[reach]![x]!);
        for (let k = 1; k <= reach; k++) sum = f(sum + f(w[k]! * f(lines[reach - k]![x]! + lines[reach + k]![x]!)));
        t[x] = sum;
      }
    },
    keepFinite(plane: number, n: number): void {
      const p = view(plane, n);
      for (let i = 0; i < n; i++) if (!Number.isFinite(p[i]!)) p[i] = 0;
    },
  };
}
