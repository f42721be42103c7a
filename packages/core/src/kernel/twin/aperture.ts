const f = Math.fround;

/** Twins of kernels/aperture.ts. */
export function twinAperture(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  const doubles = (pointer: number, n: number) => new Float64Array(heap(), pointer, n);

  function addSpan(to: number, sums: Float64Array, n: number, at: number, whole: number, weights: Float64Array): void {
    const t = view(to, n);
    for (let x = 0, s = at; x < n; x++, s++) {
      const within = weights[0]! * (sums[s + whole + 1]! - sums[s - whole]!);
      const around = weights[1]! * (sums[s + whole + 2]! - sums[s - whole - 1]!);
      t[x] = f(t[x]! + f(within + around));
    }
  }

  return {
    layerPlaces(
      to: number,
      depths: number,
      n: number,
      size: number,
      focus: number,
      most: number,
      scale: number,
      radii: number,
      count: number,
    ): void {
      const [t, d, r] = [view(to, n), view(depths, n), view(radii, count)];
      const [s, at, m, k] = [f(size), f(focus), f(most), f(scale)];
      for (let i = 0; i < n; i++) {
        const wide = f(s * f(1 - f(at / d[i]!)));
        const circle = f(Math.min(Math.max(wide, -m), m) * k);
        let place = 0;
        for (let j = 0; j + 1 < count; j++) {
          const share = f(f(r[j]! - circle) / f(r[j]! - r[j + 1]!));
          place = f(place + Math.min(Math.max(share, 0), 1));
        }
        t[i] = place;
      }
    },
    layersOfRow(places: number, n: number): number {
      let bits = 0;
      for (const place of view(places, n)) {
        const upper = Math.trunc(place);
        bits |= 1 << upper;
        if (place > upper) bits |= 2 << upper;
      }
      return bits;
    },
    layerShares(to: number, places: number, n: number, layer: number, bounds: number): void {
      const [t, p] = [view(to, n), view(places, n)];
      let [first, end] = [0, 0];
      for (let i = 0; i < n; i++) {
        t[i] = Math.max(f(1 - Math.abs(f(p[i]! - layer))), 0);
        if (t[i] === 0) continue;
        if (end === 0) first = i;
        end = i + 1;
      }
      new Int32Array(heap(), bounds, 2).set([first, end]);
    },
    rowSums(
      sums: number,
      plane: number,
      shares: number,
      left: number,
      right: number,
      reach: number,
      width: number,
    ): void {
      const s = doubles(sums - reach * 8, width + 1 + 2 * reach);
      const w = view(shares, right);
      const p = plane === 0 ? undefined : view(plane, right);
      s.fill(0, Math.max(left - reach, 0), reach + left + 1);
      for (let x = left; x < right; x++) {
        const part = p ? w[x]! * p[x]! : w[x]!;
        s[reach + x + 1] = part - part === 0 ? s[reach + x]! + part : s[reach + x]!;
      }
      s.fill(s[reach + right]!, reach + right + 1, Math.min(right + 2 * reach, width + reach) + reach + 1);
    },
    spreadRow(
      out: number,
      width: number,
      rows: number,
      y: number,
      sums: number,
      left: number,
      right: number,
      spans: number,
      count: number,
    ): void {
      for (let k = 0; k < count; k++) {
        const weights = doubles(spans + k * 32, 2);
        const [down, whole, twice] = new Int32Array(heap(), spans + k * 32 + 16, 3) as unknown as [
          number,
          number,
          number,
        ];
        const [begin, end] = [Math.max(0, left - whole - 1), Math.min(width, right + whole + 1)];
        const reach = whole + 1;
        const all = doubles(sums + (begin - reach) * 8, end - begin + 2 * reach + 1);
        for (const line of twice ? [y + down, y - down] : [y + down])
          if (line >= 0 && line < rows)
            addSpan(out + (line * width + begin) * 4, all, end - begin, reach, whole, weights);
      }
    },
    layUnder(total: number, added: number, covered: number, taken: number, n: number, each: number): void {
      const [t, a, c, h] = [view(total, n), view(added, n), view(covered, n), view(taken, n)];
      const e = f(each);
      for (let i = 0; i < n; i++) {
        if (!(c[i]! > 0)) continue;
        const free = h[i]! > full ? 0 : f(1 - h[i]!);
        const share = Math.min(1, f(free / f(e * c[i]!)));
        t[i] = f(t[i]! + f(f(e * a[i]!) * share));
      }
    },
    coveredOr(to: number, total: number, covered: number, own: number, n: number, least: number): void {
      const [t, a, c, o] = [view(to, n), view(total, n), view(covered, n), view(own, n)];
      for (let i = 0; i < n; i++) t[i] = c[i]! > f(least) ? f(a[i]! / c[i]!) : o[i]!;
    },
  };
}

/** From here on nothing is free; see the kernel. */
const full = f(0.99999);
