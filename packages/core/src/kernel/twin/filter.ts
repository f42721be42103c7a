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
    addSpan(to: number, other: number, sums: number, n: number, whole: number, inner: number, outer: number): void {
      const targets = [to, ...(other === 0 ? [] : [other])].map((at) => new Float64Array(heap(), at, n));
      const s = new Float64Array(heap(), sums - 8 * (whole + 1), n + 2 * whole + 3);
      // s[whole + 1 + x] is the sum before sample x.
      for (let x = 0; x < n; x++) {
        const within = inner * (s[x + 2 * whole + 2]! - s[x + 1]!);
        const around = outer * (s[x + 2 * whole + 3]! - s[x]!);
        for (const t of targets) t[x] = t[x]! + (within + around);
      }
    },
    shareSums(sums: number, plane: number, shares: number, n: number): void {
      const s = new Float64Array(heap(), sums, n + 1);
      const w = view(shares, n);
      const p = plane === 0 ? undefined : view(plane, n);
      for (let i = 0; i < n; i++) {
        const part = p ? w[i]! * p[i]! : w[i]!;
        s[i + 1] = part - part === 0 ? s[i]! + part : s[i]!;
      }
    },
    layOver(total: number, added: number, covered: number, n: number, each: number): void {
      const t = view(total, n);
      const [a, c] = [new Float64Array(heap(), added, n), new Float64Array(heap(), covered, n)];
      for (let i = 0; i < n; i++) {
        const cover = Math.min(1, each * c[i]!);
        t[i] = t[i]! * (1 - cover) + each * a[i]!;
      }
    },
    keepFinite(plane: number, n: number): void {
      const p = view(plane, n);
      for (let i = 0; i < n; i++) if (!Number.isFinite(p[i]!)) p[i] = 0;
    },
  };
}
