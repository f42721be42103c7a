const f = Math.fround;

/** Twins of kernels/matrix.ts and kernels/blend.ts. */
export function twinArithmetic(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  return {
    matrix3(rp: number, gp: number, bp: number, n: number, matrix: number): void {
      const [r, g, b, m] = [view(rp, n), view(gp, n), view(bp, n), view(matrix, 9)];
      for (let i = 0; i < n; i++) {
        const x = r[i]!;
        const y = g[i]!;
        const z = b[i]!;
        r[i] = f(f(m[0]! * x) + f(m[1]! * y)) + f(m[2]! * z);
        g[i] = f(f(m[3]! * x) + f(m[4]! * y)) + f(m[5]! * z);
        b[i] = f(f(m[6]! * x) + f(m[7]! * y)) + f(m[8]! * z);
      }
    },
    scale3(rp: number, gp: number, bp: number, n: number, kr: number, kg: number, kb: number): void {
      const planes = [view(rp, n), view(gp, n), view(bp, n)] as const;
      const factors = [f(kr), f(kg), f(kb)] as const;
      planes.forEach((plane, c) => {
        for (let i = 0; i < n; i++) plane[i] = plane[i]! * factors[c]!;
      });
    },
    addScaled(total: number, entry: number, n: number, k: number): void {
      const [t, e, s] = [view(total, n), view(entry, n), f(k)];
      for (let i = 0; i < n; i++) t[i] = t[i]! + f(s * e[i]!);
    },
    multiplyMixed(total: number, entry: number, n: number, mix: number): void {
      const [t, e, s] = [view(total, n), view(entry, n), f(mix)];
      const keep = f(1 - s);
      for (let i = 0; i < n; i++) t[i] = t[i]! * f(keep + f(s * e[i]!));
    },
    coverPremultiplied(total: number, entry: number, alpha: number, n: number, mix: number): void {
      const [t, e, a, s] = [view(total, n), view(entry, n), view(alpha, n), f(mix)];
      for (let i = 0; i < n; i++) {
        const keep = f(1 - f(s * a[i]!));
        t[i] = f(s * e[i]!) + (keep === 0 ? 0 : f(t[i]! * keep));
      }
    },
    fillPlane(pointer: number, n: number, value: number): void {
      view(pointer, n).fill(value);
    },
    dividePlanes(a: number, b: number, n: number): void {
      const [x, y] = [view(a, n), view(b, n)];
      for (let i = 0; i < n; i++) if (y[i] !== 0) x[i] = x[i]! / y[i]!;
    },
    restorePlanes(a: number, b: number, before: number, n: number): void {
      const [x, y, z] = [view(a, n), view(b, n), view(before, n)];
      for (let i = 0; i < n; i++) x[i] = y[i] === 0 ? z[i]! : x[i]! * y[i]!;
    },
    multiplyPlanes(a: number, b: number, n: number): void {
      const [x, y] = [view(a, n), view(b, n)];
      for (let i = 0; i < n; i++) x[i] = x[i]! * y[i]!;
    },
    divideOrZero(total: number, entry: number, n: number): void {
      const [t, e] = [view(total, n), view(entry, n)];
      for (let i = 0; i < n; i++) t[i] = e[i] === 0 ? 0 : t[i]! / e[i]!;
    },
    fillUncovered(total: number, entry: number, alpha: number, n: number): void {
      const [t, e, a] = [view(total, n), view(entry, n), view(alpha, n)];
      for (let i = 0; i < n; i++) {
        const free = f(1 - a[i]!);
        t[i] = t[i]! + (free === 0 ? 0 : f(e[i]! * free));
      }
    },
    screenPlanes(total: number, entry: number, n: number): void {
      const [t, e] = [view(total, n), view(entry, n)];
      for (let i = 0; i < n; i++) t[i] = f(t[i]! + e[i]!) - f(t[i]! * e[i]!);
    },
    maxPlanes(total: number, entry: number, n: number): void {
      const [t, e] = [view(total, n), view(entry, n)];
      for (let i = 0; i < n; i++) if (e[i]! > t[i]!) t[i] = e[i]!;
    },
    minPlanes(total: number, entry: number, n: number): void {
      const [t, e] = [view(total, n), view(entry, n)];
      for (let i = 0; i < n; i++) if (e[i]! < t[i]!) t[i] = e[i]!;
    },
    copyPlane(to: number, from: number, n: number): void {
      view(to, n).set(view(from, n));
    },
    mixTowards(to: number, from: number, share: number, n: number, value: number): void {
      const [t, a, m] = [view(to, n), view(from, n), view(share, n)];
      const v = f(value);
      for (let i = 0; i < n; i++) t[i] = m[i] === 1 ? v : m[i] === 0 ? a[i]! : f(a[i]! + f(m[i]! * f(v - a[i]!)));
    },
    mixByMatte(total: number, result: number, matte: number, n: number, mix: number): void {
      const [t, r, w, s] = [view(total, n), view(result, n), view(matte, n), f(mix)];
      for (let i = 0; i < n; i++) {
        const raw = w[i]!;
        const m = f(s * (raw > 0 ? (raw < 1 ? raw : 1) : 0));
        if (m === 1) t[i] = r[i]!;
        else if (m !== 0) t[i] = t[i]! + f(m * f(r[i]! - t[i]!));
      }
    },
  };
}
