import { entryBetween } from './tables.ts';
import { arctangentFloat, exp2Float, log2Float, powFloat } from './transcendental.ts';

const f = Math.fround;
const knotsPerRadian = f(1.6976527263135504);

/** The kernel's own: the first where the numbers cannot be compared. */
const larger = (a: number, b: number) => (a < b ? b : a);
const smaller = (a: number, b: number) => (b < a ? b : a);

function saturationOf(r: number, g: number, b: number): number {
  const tiny = f(1e-10);
  const low = larger(smaller(smaller(r, g), b), tiny);
  const high = larger(larger(r, g), b);
  return f(f(larger(high, tiny) - low) / larger(high, f(1e-2)));
}

function redWeight(r: number, g: number, b: number): number {
  const y = f(f(1.7320508075688772) * f(g - b));
  const x = f(f(f(2 * r) - g) - b);
  if (!(x > 0)) return 0;
  const u = f(2 - f(arctangentFloat(Math.abs(y), x) * knotsPerRadian));
  if (!(u > 0 && u <= 2)) return 0;
  if (u > 1) {
    const v = f(u - 1);
    const cubic = f(f(f(f(f(f(-3 * v) + 3) * v) + 3) * v) + 1);
    return f(cubic * 0.25);
  }
  return f(f(f(u * u) * u) * 0.25);
}

function glowFactor(r: number, g: number, b: number, saturation: number): number {
  let chroma = f(b * f(b - g));
  chroma = f(chroma + f(g * f(g - r)));
  chroma = f(chroma + f(r * f(r - b)));
  chroma = f(Math.sqrt(larger(chroma, 0)));
  const yc = f(f(f(f(b + g) + r) + f(1.75 * chroma)) * f(0.3333333333333333));
  const q = f(f(saturation - f(0.4)) * 5);
  const t = larger(f(1 - Math.abs(f(q * 0.5))), 0);
  const rise = f(1 - f(t * t));
  const s = f(f(1 + (q < 0 ? -rise : rise)) * 0.5);
  const gain = f(f(0.05) * s);
  if (!(yc < f(0.16))) return 1;
  if (yc <= f(0.05333333333333334)) return f(1 + gain);
  return f(1 + f(gain * f(f(f(0.08) / yc) - 0.5)));
}

function splineAt(x: number, s: Float32Array): number {
  const [minX, midX, maxX, minY, maxY, slopeHigh, lastKnot, upperStart] = s as unknown as number[];
  if (!(x > minX!)) return minY!;
  if (x >= maxX!) return f(f(slopeHigh! * f(x - maxX!)) + maxY!);
  const upper = x >= midX!;
  const from = upper ? midX! : minX!;
  const to = upper ? maxX! : midX!;
  const knot = f(f(lastKnot! * f(x - from)) / f(to - from));
  const j = Math.min(Math.trunc(knot), lastKnot! - 1);
  const t = f(knot - j);
  const at = 8 + j + (upper ? upperStart! : 0);
  const [c0, c1, c2] = [s[at]!, s[at + 1]!, s[at + 2]!];
  const a2 = f(f(f(0.5 * c0) - c1) + f(0.5 * c2));
  const a1 = f(c1 - c0);
  const a0 = f(f(0.5 * c0) + f(0.5 * c1));
  return f(f(f(f(a2 * t) + a1) * t) + a0);
}

/** Twins of kernels/aces.ts. */
export function twinAces(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  return {
    acesGlowAndRed(rp: number, gp: number, bp: number, n: number): void {
      const [red, green, blue] = [view(rp, n), view(gp, n), view(bp, n)];
      for (let i = 0; i < n; i++) {
        let r = red[i]!;
        let g = green[i]!;
        let b = blue[i]!;
        const factor = glowFactor(r, g, b, saturationOf(r, g, b));
        r = f(r * factor);
        g = f(g * factor);
        b = f(b * factor);
        const weight = redWeight(r, g, b);
        if (weight !== 0) r = f(r + f(f(f(weight * saturationOf(r, g, b)) * f(f(0.03) - r)) * f(0.18)));
        red[i] = larger(r, 0);
        green[i] = larger(g, 0);
        blue[i] = larger(b, 0);
      }
    },
    toneSpline(pointer: number, n: number, first: number, second: number): void {
      const plane = view(pointer, n);
      const [a, b] = [view(first, 32), view(second, 32)];
      const log10Of2 = f(0.30102999566398119521);
      const log2Of10 = f(3.3219280948873623479);
      for (let i = 0; i < n; i++) {
        const x = f(log2Float(plane[i]!) * log10Of2);
        plane[i] = exp2Float(f(splineAt(splineAt(x, a), b) * log2Of10));
      }
    },
    surround(
      rp: number,
      gp: number,
      bp: number,
      n: number,
      block: number,
      table: number,
      first: number,
      shift: number,
    ): void {
      const [r, g, b] = [view(rp, n), view(gp, n), view(bp, n)];
      const [wr, wg, wb, power, low, high] = view(block, 6) as unknown as number[];
      const entries = new Float32Array(heap(), table);
      for (let i = 0; i < n; i++) {
        const y = f(f(f(wr! * r[i]!) + f(wg! * g[i]!)) + f(wb! * b[i]!));
        let k = 0;
        if (y > 0) k = y <= high! ? entryBetween(entries, larger(low!, y), first, shift) : powFloat(y, power!);
        r[i] = r[i]! * k;
        g[i] = g[i]! * k;
        b[i] = b[i]! * k;
      }
    },
  };
}
