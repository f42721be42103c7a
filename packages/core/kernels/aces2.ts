// The ACES 2 rendering of the Academy (aces-core, Lib.Academy.OutputTransform.ctl), forward: scene light in ACES2065-1 to linear light of
// a display's primaries. The formulas stand, named and in float64, in src/transform/aces2/; numbers as in the reference library 2.5.1.
import { arctangentx4, log2x4, powx4 } from './transcendental';

// @ts-ignore: decorator
@inline
function select(whenTrue: v128, whenFalse: v128, mask: v128): v128 {
  return v128.bitselect(whenTrue, whenFalse, mask);
}

// @ts-ignore: decorator
@inline
function number(block: usize, index: usize): v128 {
  return v128.load_splat<f32>(block + (index << 2));
}

// @ts-ignore: decorator
@inline
function row(block: usize, index: usize, x: v128, y: v128, z: v128): v128 {
  const first = f32x4.mul(number(block, index), x);
  const second = f32x4.mul(number(block, index + 1), y);
  return f32x4.add(f32x4.add(first, second), f32x4.mul(number(block, index + 2), z));
}

// @ts-ignore: decorator
@inline
function withSign(size: v128, like: v128): v128 {
  return select(f32x4.neg(size), size, f32x4.lt(like, f32x4.splat(0)));
}

// @ts-ignore: decorator
@inline
/** Cone light to its compressed response: p / (27.13 + p), p = |x|^0.42. */
function compressCone(x: v128): v128 {
  const p = powx4(f32x4.abs(x), f32x4.splat(0.42));
  return withSign(f32x4.div(p, f32x4.add(f32x4.splat(27.13), p)), x);
}

// @ts-ignore: decorator
@inline
function expandCone(x: v128): v128 {
  const size = f32x4.min(f32x4.abs(x), f32x4.splat(0.99));
  const ratio = f32x4.div(f32x4.mul(f32x4.splat(27.13), size), f32x4.sub(f32x4.splat(1), size));
  return withSign(powx4(ratio, f32x4.splat(2.380952380952381)), x);
}

// @ts-ignore: decorator
@inline
/** The angle of (x, y) in degrees, 0 … 360, folded into an eighth of the circle. */
function hueOf(y: v128, x: v128): v128 {
  const zero = f32x4.splat(0);
  const ax = f32x4.abs(x);
  const ay = f32x4.abs(y);
  let angle = arctangentx4(f32x4.pmin(ax, ay), f32x4.pmax(ax, ay));
  angle = select(f32x4.sub(f32x4.splat(1.5707963267948966), angle), angle, f32x4.gt(ay, ax));
  angle = select(f32x4.sub(f32x4.splat(3.141592653589793), angle), angle, f32x4.lt(x, zero));
  const degrees = f32x4.mul(angle, f32x4.splat(57.29577951308232));
  return select(f32x4.sub(f32x4.splat(360), degrees), degrees, f32x4.lt(y, zero));
}

// @ts-ignore: decorator
@inline
function lerp(from: v128, to: v128, t: v128): v128 {
  return f32x4.add(from, f32x4.mul(t, f32x4.sub(to, from)));
}

// @ts-ignore: decorator
@inline
function toe(x: v128, limit: v128, k1In: v128, k2In: v128): v128 {
  const k2 = f32x4.max(k2In, f32x4.splat(0.001));
  const k1 = f32x4.sqrt(f32x4.add(f32x4.mul(k1In, k1In), f32x4.mul(k2, k2)));
  const k3 = f32x4.div(f32x4.add(limit, k1), f32x4.add(limit, k2));
  const b = f32x4.sub(f32x4.mul(k3, x), k1);
  const c = f32x4.mul(f32x4.mul(f32x4.splat(4), f32x4.mul(k2, k3)), x);
  const bent = f32x4.mul(f32x4.splat(0.5), f32x4.add(b, f32x4.sqrt(f32x4.add(f32x4.mul(b, b), c))));
  return select(x, bent, f32x4.gt(x, limit));
}

// @ts-ignore: decorator
@inline
/** Lightness at which the line through a colour meets the axis. */
function axisLightness(j: v128, m: v128, focus: v128, limit: v128, gain: v128): v128 {
  const one = f32x4.splat(1);
  const scaled = f32x4.div(m, gain);
  const a = f32x4.div(scaled, focus);
  const fourA = f32x4.mul(f32x4.splat(4), a);
  const b1 = f32x4.sub(one, scaled);
  const root1 = f32x4.sqrt(f32x4.add(f32x4.mul(b1, b1), f32x4.mul(fourA, j)));
  const below = f32x4.div(f32x4.mul(f32x4.splat(2), j), f32x4.add(b1, root1));
  const b2 = f32x4.neg(f32x4.add(f32x4.add(one, scaled), f32x4.mul(limit, a)));
  const c2 = f32x4.add(f32x4.mul(limit, scaled), j);
  const root2 = f32x4.sqrt(f32x4.sub(f32x4.mul(b2, b2), f32x4.mul(fourA, c2)));
  const above = f32x4.div(f32x4.mul(f32x4.splat(-2), c2), f32x4.sub(b2, root2));
  return select(below, above, f32x4.lt(j, focus));
}

// @ts-ignore: decorator
@inline
function meetCurve(axis: v128, slope: v128, power: v128, top: v128, most: v128, cuspAxis: v128): v128 {
  const shifted = f32x4.mul(cuspAxis, powx4(f32x4.div(axis, cuspAxis), power));
  return f32x4.div(f32x4.mul(shifted, most), f32x4.sub(top, f32x4.mul(slope, most)));
}

// @ts-ignore: decorator
@inline
/** Offset of the row of the gamut table at or above a hue; rows are hue, lightness, colourfulness and power. */
function rowAbove(hue: f32, rows: usize, searchFrom: i32, searchTo: i32): usize {
  let i = 1 + <i32>hue;
  let low = max<i32>(0, i + searchFrom);
  let high = min<i32>(361, i + searchTo);
  while (low + 1 < high) {
    if (hue > load<f32>(rows + (<usize>i << 4))) low = i;
    else high = i;
    i = (low + high) >> 1;
  }
  return rows + (<usize>max<i32>(1, high) << 4);
}

// @ts-ignore: decorator
@inline
/** The row of the gamut table for a hue, between the two beside it. */
function cuspRow(hue: f32, rows: usize, searchFrom: i32, searchTo: i32): v128 {
  const at = rowAbove(hue, rows, searchFrom, searchTo);
  const below = load<f32>(at - 16);
  const t = f32x4.splat((hue - below) / (load<f32>(at) - below));
  return lerp(v128.load(at - 16), v128.load(at), t);
}

// @ts-ignore: decorator
@inline
function reachAt(hue: f32, reach: usize): f32 {
  const base = <i32>hue;
  const at = reach + (<usize>(base + 1) << 2);
  const low = load<f32>(at);
  return low + (hue - <f32>base) * (load<f32>(at + 4) - low);
}

/** Runs over three planes in place. Layout of the block: renderingBlock in src/transform/aces2/block.ts. */
export function aces2Forward(rp: usize, gp: usize, bp: usize, n: i32, block: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const hundred = f32x4.splat(100);
  const whiteResponse = number(block, 36);
  const level = number(block, 37);
  const m2 = number(block, 38);
  const s2 = number(block, 39);
  const contrast = number(block, 40);
  const toneToe = number(block, 41);
  const limit = number(block, 42);
  const middle = number(block, 43);
  const focusScale = number(block, 44);
  const lowerHull = number(block, 45);
  const saturation = number(block, 46);
  const saturationThreshold = number(block, 47);
  const compression = number(block, 48);
  const chromaScale = number(block, 49);
  const lightnessExponent = number(block, 50);
  const gamma = number(block, 51);
  const searchFrom = <i32>load<f32>(block + 208);
  const searchTo = <i32>load<f32>(block + 212);
  const reachTable = block + 256;
  const rows = block + 1712;
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2;
    const r = v128.load(rp + o);
    const g = v128.load(gp + o);
    const b = v128.load(bp + o);
    // Appearance: achromatic response, lightness, colourfulness, hue.
    const x = compressCone(row(block, 0, r, g, b));
    const y = compressCone(row(block, 3, r, g, b));
    const z = compressCone(row(block, 6, r, g, b));
    const bright = f32x4.gt(row(block, 9, x, y, z), zero);
    const achromatic = v128.and(row(block, 9, x, y, z), bright);
    const first = v128.and(row(block, 12, x, y, z), bright);
    const second = v128.and(row(block, 15, x, y, z), bright);
    const m = f32x4.sqrt(f32x4.add(f32x4.mul(first, first), f32x4.mul(second, second)));
    const coloured = f32x4.gt(m, zero);
    const c = select(f32x4.div(first, m), one, coloured);
    const s = v128.and(f32x4.div(second, m), coloured);
    const hue = v128.and(hueOf(second, first), coloured);
    const j = f32x4.mul(hundred, powx4(achromatic, lightnessExponent));
    // Tone scale in luminance.
    const size = f32x4.min(f32x4.mul(whiteResponse, achromatic), f32x4.splat(0.99));
    const ratio = f32x4.div(f32x4.mul(f32x4.splat(27.13), size), f32x4.sub(one, size));
    const scene = f32x4.div(powx4(ratio, f32x4.splat(2.380952380952381)), level);
    const f = f32x4.mul(m2, powx4(f32x4.div(scene, f32x4.add(scene, s2)), contrast));
    const display = f32x4.mul(f32x4.max(zero, f32x4.div(f32x4.mul(f, f), f32x4.add(f, toneToe))), hundred);
    const p = powx4(f32x4.mul(display, level), f32x4.splat(0.42));
    const response = f32x4.div(p, f32x4.add(f32x4.splat(27.13), p));
    const shown = f32x4.mul(hundred, powx4(f32x4.div(response, whiteResponse), lightnessExponent));
    // Colourfulness goes with lightness.
    const cc = f32x4.mul(c, c);
    const ss = f32x4.mul(s, s);
    const c2 = f32x4.sub(f32x4.mul(f32x4.splat(2), cc), one);
    const s2a = f32x4.mul(f32x4.mul(f32x4.splat(2), c), s);
    const c3 = f32x4.sub(f32x4.mul(f32x4.mul(f32x4.splat(4), cc), c), f32x4.mul(f32x4.splat(3), c));
    const s3 = f32x4.sub(f32x4.mul(f32x4.splat(3), s), f32x4.mul(f32x4.mul(f32x4.splat(4), ss), s));
    let norm = f32x4.mul(f32x4.splat(11.34072), c);
    norm = f32x4.add(norm, f32x4.mul(f32x4.splat(16.46899), c2));
    norm = f32x4.add(norm, f32x4.mul(f32x4.splat(7.8838), c3));
    norm = f32x4.add(norm, f32x4.mul(f32x4.splat(14.66441), s));
    norm = f32x4.add(norm, f32x4.mul(f32x4.splat(-6.37224), s2a));
    norm = f32x4.add(norm, f32x4.mul(f32x4.splat(9.19364), s3));
    norm = f32x4.mul(f32x4.add(norm, f32x4.splat(77.12896)), chromaScale);
    const hue0 = f32x4.extract_lane(hue, 0);
    const hue1 = f32x4.extract_lane(hue, 1);
    const hue2 = f32x4.extract_lane(hue, 2);
    const hue3 = f32x4.extract_lane(hue, 3);
    let reach = f32x4.splat(reachAt(hue0, reachTable));
    reach = f32x4.replace_lane(reach, 1, reachAt(hue1, reachTable));
    reach = f32x4.replace_lane(reach, 2, reachAt(hue2, reachTable));
    reach = f32x4.replace_lane(reach, 3, reachAt(hue3, reachTable));
    const part = f32x4.div(shown, limit);
    const rest = f32x4.max(zero, f32x4.sub(one, part));
    const most = f32x4.div(f32x4.mul(powx4(part, gamma), reach), norm);
    let colour = f32x4.div(f32x4.mul(m, powx4(f32x4.div(shown, j), gamma)), norm);
    const bend = f32x4.sqrt(f32x4.add(f32x4.mul(part, part), saturationThreshold));
    const nearly = f32x4.sub(most, f32x4.splat(0.001));
    colour = f32x4.sub(most, toe(f32x4.sub(most, colour), nearly, f32x4.mul(rest, saturation), bend));
    colour = f32x4.mul(toe(colour, most, f32x4.mul(part, compression), rest), norm);
    colour = v128.and(colour, coloured);
    // Into the display's gamut, along a line of this hue.
    const row0 = cuspRow(hue0, rows, searchFrom, searchTo);
    const row1 = cuspRow(hue1, rows, searchFrom, searchTo);
    const row2 = cuspRow(hue2, rows, searchFrom, searchTo);
    const row3 = cuspRow(hue3, rows, searchFrom, searchTo);
    const low01 = v128.shuffle<i32>(row0, row1, 1, 5, 2, 6);
    const low23 = v128.shuffle<i32>(row2, row3, 1, 5, 2, 6);
    const cuspJ = v128.shuffle<i64>(low01, low23, 0, 2);
    const cuspM = v128.shuffle<i64>(low01, low23, 1, 3);
    const upperPower = v128.shuffle<i64>(
      v128.shuffle<i32>(row0, row1, 3, 7, 3, 7),
      v128.shuffle<i32>(row2, row3, 3, 7, 3, 7),
      0,
      2,
    );
    const blend = f32x4.min(one, f32x4.sub(f32x4.splat(1.3), f32x4.div(cuspJ, limit)));
    const focus = lerp(cuspJ, middle, blend);
    const threshold = lerp(cuspJ, limit, f32x4.splat(0.3));
    const room = f32x4.max(f32x4.splat(0.0001), f32x4.sub(limit, shown));
    const decades = f32x4.mul(log2x4(f32x4.div(f32x4.sub(limit, threshold), room)), f32x4.splat(0.3010299956639812));
    const steeper = f32x4.mul(focusScale, f32x4.add(f32x4.mul(decades, decades), one));
    const gain = select(steeper, focusScale, f32x4.gt(shown, threshold));
    const axis = axisLightness(shown, colour, focus, limit, gain);
    const cuspAxis = axisLightness(cuspJ, cuspM, focus, limit, gain);
    const scaler = select(axis, f32x4.sub(limit, axis), f32x4.lt(axis, focus));
    const slope = f32x4.div(f32x4.mul(scaler, f32x4.sub(axis, focus)), f32x4.mul(focus, gain));
    const lower = meetCurve(axis, slope, lowerHull, cuspJ, cuspM, cuspAxis);
    const upper = meetCurve(
      f32x4.sub(limit, axis),
      f32x4.neg(slope),
      upperPower,
      f32x4.sub(limit, cuspJ),
      cuspM,
      f32x4.sub(limit, cuspAxis),
    );
    const near = f32x4.mul(f32x4.splat(0.12), cuspM);
    const h = f32x4.div(f32x4.max(f32x4.sub(near, f32x4.abs(f32x4.sub(lower, upper))), zero), near);
    const cube = f32x4.mul(f32x4.mul(h, h), h);
    const hull = f32x4.sub(f32x4.min(lower, upper), f32x4.div(f32x4.mul(cube, near), f32x4.splat(6)));
    const reachHull = meetCurve(axis, slope, gamma, limit, reach, limit);
    const proportion = f32x4.max(f32x4.div(hull, reachHull), f32x4.splat(0.75));
    const start = f32x4.mul(proportion, hull);
    const gamutRoom = f32x4.sub(hull, start);
    const reachRoom = f32x4.sub(reachHull, start);
    const scale = f32x4.div(reachRoom, f32x4.sub(f32x4.div(reachRoom, gamutRoom), one));
    const over = f32x4.div(f32x4.sub(colour, start), scale);
    const pulled = f32x4.add(start, f32x4.div(f32x4.mul(scale, over), f32x4.add(one, over)));
    const kept = v128.or(f32x4.le(colour, start), f32x4.ge(proportion, one));
    const moved = select(colour, pulled, kept);
    const grey = v128.not(
      v128.and(v128.and(f32x4.gt(colour, zero), f32x4.le(shown, limit)), f32x4.gt(hull, zero)),
    );
    const lit = f32x4.gt(shown, zero);
    const outM = v128.and(select(zero, moved, grey), lit);
    const outJ = v128.and(select(shown, f32x4.add(axis, f32x4.mul(moved, slope)), grey), lit);
    // Back to light of the display.
    const a = powx4(f32x4.div(outJ, hundred), gamma);
    const outFirst = f32x4.mul(outM, c);
    const outSecond = f32x4.mul(outM, s);
    const rx = expandCone(row(block, 18, a, outFirst, outSecond));
    const ry = expandCone(row(block, 21, a, outFirst, outSecond));
    const rz = expandCone(row(block, 24, a, outFirst, outSecond));
    v128.store(rp + o, row(block, 27, rx, ry, rz));
    v128.store(gp + o, row(block, 30, rx, ry, rz));
    v128.store(bp + o, row(block, 33, rx, ry, rz));
  }
}
