const f = Math.fround;

function code(x: number): number {
  const scaled = f(f(x * 255) + 0.5);
  return scaled !== scaled ? 0 : Math.trunc(Math.min(Math.max(scaled, 0), 255));
}

/** Twins of kernels/reduce.ts. */
export function twinReduce(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  return {
    luminanceSum(rp: number, gp: number, bp: number, n: number, wr: number, wg: number, wb: number): number {
      const [r, g, b] = [view(rp, n), view(gp, n), view(bp, n)];
      const [kr, kg, kb] = [f(wr), f(wg), f(wb)];
      const lanes = [0, 0, 0, 0];
      for (let i = 0; i < n; i++) {
        const y = f(f(f(kr * r[i]!) + f(kg * g[i]!)) + f(kb * b[i]!));
        if (y - y === 0) lanes[i & 3]! += y;
      }
      return lanes[0]! + lanes[1]! + lanes[2]! + lanes[3]!;
    },
    averageSquares(to: number, upper: number, lower: number, n: number): void {
      const [means, a, b] = [view(to, n), view(upper, 2 * n), view(lower, 2 * n)];
      for (let i = 0; i < n; i++) means[i] = f(f(f(a[2 * i]! + b[2 * i]!) + f(a[2 * i + 1]! + b[2 * i + 1]!)) * 0.25);
    },
    packCodes(rp: number, gp: number, bp: number, destination: number, n: number): void {
      const [r, g, b] = [view(rp, n), view(gp, n), view(bp, n)];
      const out = new Uint8Array(heap(), destination, n * 4);
      for (let i = 0; i < n; i++) {
        out[4 * i] = code(r[i]!);
        out[4 * i + 1] = code(g[i]!);
        out[4 * i + 2] = code(b[i]!);
        out[4 * i + 3] = 255;
      }
    },
  };
}
