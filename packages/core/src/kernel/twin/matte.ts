const f = Math.fround;

/** Twins of kernels/matte.ts. */
export function twinMatte(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);

  /** Distances of places by a rule, infinite where there is no surface. */
  function distances(
    [to, xs, ys, zs]: readonly [number, number, number, number],
    n: number,
    of: (x: number, y: number, z: number) => number,
  ): void {
    const [t, x, y, z] = [view(to, n), view(xs, n), view(ys, n), view(zs, n)];
    for (let i = 0; i < n; i++) t[i] = x[i] === 0 && y[i] === 0 && z[i] === 0 ? Infinity : of(x[i]!, y[i]!, z[i]!);
  }

  return {
    rampPlane(p: number, n: number, low: number, high: number, smooth: number): void {
      const t = view(p, n);
      const [l, h] = [f(low), f(high)];
      for (let i = 0; i < n; i++) t[i] = between(t[i]!, l, h, smooth);
    },
    rangePlane(
      to: number,
      from: number,
      n: number,
      near: number,
      far: number,
      before: number,
      behind: number,
      smooth: number,
      none: number,
    ): void {
      const [t, d] = [view(to, n), view(from, n)];
      const [a, b] = [f(near), f(far)];
      for (let i = 0; i < n; i++) {
        const v = d[i]!;
        const rising = between(v, f(a - f(before)), a, smooth);
        const falling = f(1 - between(v, b, f(b + f(behind)), smooth));
        const value = v >= a && v <= b ? 1 : f(rising * falling);
        t[i] = v < f(none) ? value : 0;
      }
    },
    falloffPlane(p: number, n: number, falloff: number, smooth: number): void {
      const t = view(p, n);
      const over = f(falloff);
      for (let i = 0; i < n; i++) t[i] = t[i]! <= 0 ? 1 : over > 0 ? held(f(1 - f(t[i]! / over)), smooth) : 0;
    },
    sphereDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void {
      const [cx, cy, cz, radius] = view(shape, 4) as unknown as [number, number, number, number];
      distances([to, xs, ys, zs], n, (x, y, z) => f(lengthOf(f(x - cx), f(y - cy), f(z - cz)) - radius));
    },
    boxDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void {
      const s = view(shape, 6);
      const beyond = (v: number, k: number) => f(Math.abs(f(v - s[k]!)) - s[k + 3]!);
      distances([to, xs, ys, zs], n, (x, y, z) => {
        const [a, b, c] = [beyond(x, 0), beyond(y, 1), beyond(z, 2)];
        const outside = lengthOf(Math.max(a, 0), Math.max(b, 0), Math.max(c, 0));
        return outside > 0 ? outside : Math.max(a, b, c);
      });
    },
    planeDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void {
      const s = view(shape, 6);
      const part = (v: number, k: number) => f(f(v - s[k]!) * s[k + 3]!);
      distances([to, xs, ys, zs], n, (x, y, z) => -f(f(part(x, 0) + part(y, 1)) + part(z, 2)));
    },
  };
}

const lengthOf = (x: number, y: number, z: number): number => f(Math.sqrt(f(f(f(x * x) + f(y * y)) + f(z * z))));

const between = (v: number, low: number, high: number, smooth: number): number =>
  high > low ? held(f(f(v - low) / f(high - low)), smooth) : v >= high ? 1 : 0;

function held(t: number, smooth: number): number {
  const h = t > 0 ? Math.min(t, 1) : 0;
  return smooth === 0 ? h : f(f(h * h) * f(3 - f(h + h)));
}
