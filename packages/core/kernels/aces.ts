// Steps of the ACES 1.x reference rendering transform and SDR output transforms, as published in the Academy's
// CTL (RRT.ctl, RRT_Common, ACESlib.Tonescales, ODT_Common). Constants from memory, checked against the reference
// colour library.
import { betweenEntries } from './tables';
import { arctangentx4, exp2x4, log2x4, powx4 } from './transcendental';

// @ts-ignore: decorator
@inline
function select(whenTrue: v128, whenFalse: v128, mask: v128): v128 {
  return v128.bitselect(whenTrue, whenFalse, mask);
}

// @ts-ignore: decorator
@inline
function saturationOf(r: v128, g: v128, b: v128): v128 {
  const tiny = f32x4.splat(1e-10);
  // pmin and pmax: one instruction each, where min and max take eight for the sake of NaN.
  const low = f32x4.pmax(f32x4.pmin(f32x4.pmin(r, g), b), tiny);
  const high = f32x4.pmax(f32x4.pmax(r, g), b);
  return f32x4.div(f32x4.sub(f32x4.pmax(high, tiny), low), f32x4.pmax(high, f32x4.splat(1e-2)));
}

// @ts-ignore: decorator
@inline
/** Weight of the red modifier: a cubic B-spline bump, 135 degrees wide, around hue 0; 0 outside. */
function redWeight(r: v128, g: v128, b: v128): v128 {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const y = f32x4.mul(f32x4.splat(1.7320508075688772), f32x4.sub(g, b));
  const x = f32x4.sub(f32x4.sub(f32x4.mul(f32x4.splat(2), r), g), b);
  const angle = arctangentx4(f32x4.abs(y), x);
  // knots every width/4 = 33.75 degrees = 0.5890486225480862 rad; the bump is even in the angle
  const k = f32x4.mul(angle, f32x4.splat(1.6976527263135504));
  const u = f32x4.sub(f32x4.splat(2), k); // 2 at the centre, 0 at the rim
  const uu = f32x4.mul(u, u);
  const outer = f32x4.mul(f32x4.mul(uu, u), f32x4.splat(0.25)); // 1.5 * u^3 / 6
  const v = f32x4.sub(u, one);
  // 1.5 * (-3 v^3 + 3 v^2 + 3 v + 1) / 6
  let inner = f32x4.add(f32x4.mul(f32x4.splat(-3), v), f32x4.splat(3));
  inner = f32x4.add(f32x4.mul(inner, v), f32x4.splat(3));
  inner = f32x4.add(f32x4.mul(inner, v), one);
  inner = f32x4.mul(inner, f32x4.splat(0.25));
  const w = select(inner, outer, f32x4.gt(u, one));
  const inside = v128.and(f32x4.gt(x, zero), v128.and(f32x4.gt(u, zero), f32x4.le(u, f32x4.splat(2))));
  return v128.and(w, inside);
}

/** Glow module, red modifier and the clamp of negatives, on ACES2065-1 planes in place. */
export function acesGlowAndRed(rp: usize, gp: usize, bp: usize, n: i32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2;
    let r = v128.load(rp + o);
    let g = v128.load(gp + o);
    let b = v128.load(bp + o);
    let chroma = f32x4.mul(b, f32x4.sub(b, g));
    chroma = f32x4.add(chroma, f32x4.mul(g, f32x4.sub(g, r)));
    chroma = f32x4.add(chroma, f32x4.mul(r, f32x4.sub(r, b)));
    chroma = f32x4.sqrt(f32x4.pmax(chroma, zero));
    const sum = f32x4.add(f32x4.add(b, g), r);
    const yc = f32x4.mul(f32x4.add(sum, f32x4.mul(f32x4.splat(1.75), chroma)), f32x4.splat(0.3333333333333333));
    // Only dim colours glow: four bright ones are passed by.
    const dim = f32x4.lt(yc, f32x4.splat(0.16));
    if (v128.any_true(dim)) {
      // sigmoid shaper of (saturation - 0.4) / 0.2
      const q = f32x4.mul(f32x4.sub(saturationOf(r, g, b), f32x4.splat(0.4)), f32x4.splat(5));
      const t = f32x4.pmax(f32x4.sub(one, f32x4.abs(f32x4.mul(q, f32x4.splat(0.5)))), zero);
      const rise = f32x4.sub(one, f32x4.mul(t, t));
      const signed = select(f32x4.neg(rise), rise, f32x4.lt(q, zero));
      const s = f32x4.mul(f32x4.add(one, signed), f32x4.splat(0.5));
      const gain = f32x4.mul(f32x4.splat(0.05), s);
      const fade = f32x4.mul(gain, f32x4.sub(f32x4.div(f32x4.splat(0.08), yc), f32x4.splat(0.5)));
      const glow = select(gain, fade, f32x4.le(yc, f32x4.splat(0.05333333333333334)));
      const factor = f32x4.add(one, v128.and(glow, dim));
      r = f32x4.mul(r, factor);
      g = f32x4.mul(g, factor);
      b = f32x4.mul(b, factor);
    }
    // Only reds are pushed: where red lies below the mean of the others, nothing is.
    const reddish = f32x4.gt(f32x4.sub(f32x4.sub(f32x4.mul(f32x4.splat(2), r), g), b), zero);
    if (v128.any_true(reddish)) {
      const weight = redWeight(r, g, b);
      // The CTL reuses the saturation from before the glow; the reference library, which is our measure, takes it anew.
      // They differ by under 1e-3 in display value, in saturated reds below 0.01.
      const push = f32x4.mul(f32x4.mul(weight, saturationOf(r, g, b)), f32x4.sub(f32x4.splat(0.03), r));
      r = select(f32x4.add(r, f32x4.mul(push, f32x4.splat(0.18))), r, f32x4.ne(weight, zero));
    }
    v128.store(rp + o, f32x4.pmax(r, zero));
    v128.store(gp + o, f32x4.pmax(g, zero));
    v128.store(bp + o, f32x4.pmax(b, zero));
  }
}

// @ts-ignore: decorator
@inline
/** One segmented spline in log10; layout of s: see acesToneSplines in src/colour/acesTonescale.ts. */
function splineAt(x: v128, s: usize): v128 {
  const minX = v128.load_splat<f32>(s);
  const midX = v128.load_splat<f32>(s, 4);
  const maxX = v128.load_splat<f32>(s, 8);
  const lastKnot = v128.load_splat<f32>(s, 24);
  const upper = f32x4.ge(x, midX);
  const from = v128.bitselect(midX, minX, upper);
  const to = v128.bitselect(maxX, midX, upper);
  const knot = f32x4.div(f32x4.mul(lastKnot, f32x4.sub(x, from)), f32x4.sub(to, from));
  // Outside the ends the index only has to stay inside the block; the result is replaced below. In this order NaN gives an end, too.
  const whole = f32x4.floor(f32x4.pmax(f32x4.splat(0), f32x4.pmin(f32x4.sub(lastKnot, f32x4.splat(1)), knot)));
  const t = f32x4.sub(knot, whole);
  const shift = f32x4.splat(8388608);
  const j = i32x4.sub(f32x4.add(whole, shift), shift);
  const start = i32x4.add(j, v128.and(upper, i32x4.sub(f32x4.add(v128.load_splat<f32>(s, 28), shift), shift)));
  // Three neighbouring coefficients per lane: four loads, turned by shuffles.
  const base = s + 32;
  const r0 = v128.load(base + (<usize>i32x4.extract_lane(start, 0) << 2));
  const r1 = v128.load(base + (<usize>i32x4.extract_lane(start, 1) << 2));
  const r2 = v128.load(base + (<usize>i32x4.extract_lane(start, 2) << 2));
  const r3 = v128.load(base + (<usize>i32x4.extract_lane(start, 3) << 2));
  const low01 = v128.shuffle<i32>(r0, r1, 0, 4, 1, 5);
  const low23 = v128.shuffle<i32>(r2, r3, 0, 4, 1, 5);
  const c0 = v128.shuffle<i64>(low01, low23, 0, 2);
  const c1 = v128.shuffle<i64>(low01, low23, 1, 3);
  const c2 = v128.shuffle<i32>(v128.shuffle<i32>(r0, r1, 2, 6, 2, 6), v128.shuffle<i32>(r2, r3, 2, 6, 2, 6), 0, 1, 4, 5);
  const half = f32x4.splat(0.5);
  const a2 = f32x4.add(f32x4.sub(f32x4.mul(half, c0), c1), f32x4.mul(half, c2));
  const a1 = f32x4.sub(c1, c0);
  const a0 = f32x4.add(f32x4.mul(half, c0), f32x4.mul(half, c1));
  let y = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(a2, t), a1), t), a0);
  const beyond = f32x4.add(f32x4.mul(v128.load_splat<f32>(s, 20), f32x4.sub(x, maxX)), v128.load_splat<f32>(s, 16));
  y = v128.bitselect(beyond, y, f32x4.ge(x, maxX));
  return v128.bitselect(y, v128.load_splat<f32>(s, 12), f32x4.gt(x, minX));
}

/** x := 10^spline2(spline1(log10 x)): both ACES tone scales in one pass. */
export function toneSpline(p: usize, n: i32, first: usize, second: usize): void {
  const log10Of2 = f32x4.splat(0.30102999566398119521);
  const log2Of10 = f32x4.splat(3.3219280948873623479);
  for (let i = 0; i < n; i += 4) {
    const o = p + (<usize>i << 2);
    const y = splineAt(splineAt(f32x4.mul(log2x4(v128.load(o)), log10Of2), first), second);
    v128.store(o, exp2x4(f32x4.mul(y, log2Of10)));
  }
}

/**
 * Scales each colour so that its luminance Y becomes Y^exponent; 0 where Y <= 0. Six floats at `block`: the weights of Y, exponent - 1, low and
 * high. Y^(exponent - 1) comes from a table as of `curveTable`; below `low` its first entry stands, above `high` it is worked out.
 */
export function surround(
  rp: usize,
  gp: usize,
  bp: usize,
  n: i32,
  block: usize,
  table: usize,
  first: i32,
  shift: i32,
): void {
  const wr = v128.load_splat<f32>(block);
  const wg = v128.load_splat<f32>(block, 4);
  const wb = v128.load_splat<f32>(block, 8);
  const power = v128.load_splat<f32>(block, 12);
  const low = v128.load_splat<f32>(block, 16);
  const high = v128.load_splat<f32>(block, 20);
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2;
    const r = v128.load(rp + o);
    const g = v128.load(gp + o);
    const b = v128.load(bp + o);
    const y = f32x4.add(f32x4.add(f32x4.mul(wr, r), f32x4.mul(wg, g)), f32x4.mul(wb, b));
    const inside = f32x4.le(y, high);
    let k = betweenEntries(f32x4.pmax(low, f32x4.pmin(high, y)), table, first, shift);
    if (!i32x4.all_true(inside)) k = select(k, powx4(y, power), inside);
    k = v128.and(k, f32x4.gt(y, zero));
    v128.store(rp + o, f32x4.mul(r, k));
    v128.store(gp + o, f32x4.mul(g, k));
    v128.store(bp + o, f32x4.mul(b, k));
  }
}
