const f = Math.fround;

/** Twins of kernels/depth.ts. */
export function twinDepth(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  const bytes = (pointer: number, n: number) => new Uint8Array(heap(), pointer, n);
  return {
    surfaceDepths(to: number, from: number, n: number, sky: number, zeroIsSky: number, least: number): void {
      const [t, d] = [view(to, n), view(from, n)];
      for (let i = 0; i < n; i++) {
        const isSurface = d[i]! < f(sky) && !(zeroIsSky !== 0 && d[i] === 0);
        t[i] = isSurface ? Math.max(d[i]!, least) : sky;
      }
    },
    exponentsOfDepth(to: number, depths: number, n: number, start: number, k: number): void {
      const [t, d] = [view(to, n), view(depths, n)];
      for (let i = 0; i < n; i++) t[i] = Math.max(f(Math.max(f(d[i]! - f(start)), 0) * f(-k)), -126);
    },
    lostOfLeft(left: number, depths: number, n: number, most: number, sky: number, ofSky: number): void {
      const [t, d] = [view(left, n), view(depths, n)];
      for (let i = 0; i < n; i++) t[i] = d[i] === f(sky) ? ofSky : f(f(most) * f(1 - t[i]!));
    },
    calmBytes(to: number, low: number, high: number, n: number, jump: number): void {
      const [t, l, h] = [bytes(to, n), view(low, n), view(high, n)];
      for (let i = 0; i < n; i++) t[i] = f(h[i]! - l[i]!) <= f(f(jump) * Math.abs(l[i]!)) ? 1 : 0;
    },
    joinBytes(p: number, n: number, shift: number): void {
      const t = bytes(p, n + shift);
      for (let i = 0; i < n; i++) t[i] = t[i]! | t[i + shift]!;
    },
    findSides(
      sides: number,
      list: number,
      count: number,
      depth: number,
      calm: number,
      nearby: number,
      nearbyStride: number,
      low: number,
      high: number,
      stride: number,
      width: number,
      rows: number,
      around: number,
      tries: number,
      same: number,
    ): void {
      const [into, places] = [new Int32Array(heap(), sides, 2 * count), new Int32Array(heap(), list, count)];
      const [d, isCalm] = [view(depth, width * rows), bytes(calm, width * rows)];
      const off = new Int32Array(heap(), around, 2 * tries);
      into.fill(-1);
      for (let k = 0; k < count; k++) {
        const y = Math.floor(places[k]! / width);
        const x = places[k]! - y * width;
        if (bytes(nearby + y * nearbyStride + x, 1)[0] === 0) continue;
        const nearest = view(low + (y * stride + x) * 4, 1)[0]! * (1 + same);
        const farthest = view(high + (y * stride + x) * 4, 1)[0]! * (1 - same);
        const found = Array.from({ length: tries }, (_, i) => [x + off[2 * i]!, y + off[2 * i + 1]!] as const)
          .filter(([u, v]) => u >= 0 && u < width && v >= 0 && v < rows)
          .map(([u, v]) => v * width + u);
        const closest = (of: readonly number[]) => of.find((at) => isCalm[at] === 1) ?? of[0];
        const near = closest(found.filter((at) => d[at]! <= nearest));
        const far = closest(found.filter((at) => d[at]! >= farthest));
        if (near === undefined || far === undefined || near === far || isCalm[near]! + isCalm[far]! === 0) continue;
        into.set([near, far], 2 * k);
      }
    },
    listZeros(list: number, from: number, n: number, first: number): number {
      const b = bytes(from, n);
      const l = new Int32Array(heap(), list, n);
      let count = 0;
      for (let i = 0; i < n; i++) if (b[i] === 0) l[count++] = first + i;
      return count;
    },
  };
}
