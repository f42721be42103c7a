// Light spread over an aperture's shape: layers of like blur, row by row.

/**
 * Where among `count` radii, which fall, each depth's circle of confusion lies: k at the k-th of them, by shares between two. The circle is
 * size * (1 - focus / depth), `most` at most to both sides, times `scale`. Depths are above 0.
 */
export function layerPlaces(
  to: usize,
  depths: usize,
  n: i32,
  size: f32,
  focus: f32,
  most: f32,
  scale: f32,
  radii: usize,
  count: i32,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const near = f32x4.div(f32x4.splat(focus), v128.load(depths + o));
    const wide = f32x4.mul(f32x4.splat(size), f32x4.sub(one, near));
    const held = f32x4.min(f32x4.max(wide, f32x4.splat(-most)), f32x4.splat(most));
    const circle = f32x4.mul(held, f32x4.splat(scale));
    let place = zero;
    for (let k = 0; k + 1 < count; k++) {
      const at = radii + ((<usize>k) << 2);
      const upper = v128.load_splat<f32>(at);
      const lower = v128.load_splat<f32>(at + 4);
      // Neighbours are mostly of the same layers: all beyond them count wholly, or not at all.
      if (i32x4.all_true(f32x4.le(circle, lower))) {
        place = f32x4.add(place, one);
        continue;
      }
      if (i32x4.all_true(f32x4.ge(circle, upper))) break;
      const share = f32x4.div(f32x4.sub(upper, circle), f32x4.sub(upper, lower));
      place = f32x4.add(place, f32x4.min(f32x4.max(share, zero), one));
    }
    v128.store(to + o, place);
  }
}

/** A bit for each layer, up to 32, that any of n pixels is of: the two that its place lies between. */
export function layersOfRow(places: usize, n: i32): i32 {
  let bits = 0;
  for (let i = 0; i < n; i++) {
    const place = load<f32>(places + ((<usize>i) << 2));
    const upper = <i32>place;
    bits |= 1 << upper;
    if (place > <f32>upper) bits |= 2 << upper;
  }
  return bits;
}

/**
 * How much of each pixel of a row is of a layer: 1 - |place - layer|, 0 at least. The first pixel of it, and the one after its last, are
 * written to two integers at `bounds`: 0 and 0 for none.
 */
export function layerShares(to: usize, places: usize, n: i32, layer: f32, bounds: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const l4 = f32x4.splat(layer);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const off = f32x4.abs(f32x4.sub(v128.load(places + o), l4));
    v128.store(to + o, f32x4.max(f32x4.sub(one, off), zero));
  }
  let end = n;
  while (end > 0 && load<f32>(to + ((<usize>(end - 1)) << 2)) == 0) end--;
  let first = 0;
  while (first < end && load<f32>(to + ((<usize>first) << 2)) == 0) first++;
  store<i32>(bounds, end > 0 ? first : 0);
  store<i32>(bounds + 4, end);
}

/**
 * Running sums of shares of a row's pixels `left` to before `right`, in doubles: sums[x + 1] = sums[x] + shares[x] * plane[x]; without a
 * plane (0) of the shares alone. What is no finite number counts as 0. Twice `reach` to the left they are 0, and to the right the whole: `sums`
 * points at pixel 0's own (what lies before it), with `reach` doubles of room before it and behind the end.
 */
export function rowSums(sums: usize, plane: usize, shares: usize, left: i32, right: i32, reach: i32, width: i32): void {
  for (let x = max(left - 2 * reach, -reach); x <= left; x++) store<f64>(sums + (<usize>x << 3), 0);
  let sum: f64 = 0;
  for (let x = left; x < right; x++) {
    const at = (<usize>x) << 2;
    const share = <f64>load<f32>(shares + at);
    const part = plane == 0 ? share : share * (<f64>load<f32>(plane + at));
    if (part - part == 0) sum += part;
    store<f64>(sums + ((<usize>(x + 1)) << 3), sum);
  }
  const last = min(right + 2 * reach, width + reach);
  for (let x = right + 1; x <= last; x++) store<f64>(sums + ((<usize>x) << 3), sum);
}

/**
 * Adds to each of n samples, and to those at `other` (none for 0), `inner` times the sum of the samples within `whole` to both sides and
 * `outer` times that within one more: a sum over samples is the difference of two running sums. Each of these is read once.
 */
function addSpan(to: usize, other: usize, sums: usize, n: i32, whole: i32, inner: f64, outer: f64): void {
  const i2 = f64x2.splat(inner);
  const o2 = f64x2.splat(outer);
  let behind = sums + (<usize>(whole + 1) << 3);
  let before = sums - (<usize>(whole + 1) << 3);
  let r0 = v128.load(behind);
  let l0 = v128.load(before);
  let x = 0;
  for (; x + 4 <= n; x += 4) {
    const r1 = v128.load(behind + 16);
    const r2 = v128.load(behind + 32);
    const l1 = v128.load(before + 16);
    const l2 = v128.load(before + 32);
    const first = f64x2.add(
      f64x2.mul(i2, f64x2.sub(r0, v128.shuffle<f64>(l0, l1, 1, 2))),
      f64x2.mul(o2, f64x2.sub(v128.shuffle<f64>(r0, r1, 1, 2), l0)),
    );
    const second = f64x2.add(
      f64x2.mul(i2, f64x2.sub(r1, v128.shuffle<f64>(l1, l2, 1, 2))),
      f64x2.mul(o2, f64x2.sub(v128.shuffle<f64>(r1, r2, 1, 2), l1)),
    );
    const all = v128.shuffle<f32>(f32x4.demote_f64x2_zero(first), f32x4.demote_f64x2_zero(second), 0, 1, 4, 5);
    const o = (<usize>x) << 2;
    v128.store(to + o, f32x4.add(v128.load(to + o), all));
    if (other != 0) v128.store(other + o, f32x4.add(v128.load(other + o), all));
    r0 = r2;
    l0 = l2;
    behind += 32;
    before += 32;
  }
  for (; x < n; x++) {
    const within = inner * (load<f64>(behind) - load<f64>(before + 8));
    const around = outer * (load<f64>(behind + 8) - load<f64>(before));
    const all = <f32>(within + around);
    const o = (<usize>x) << 2;
    store<f32>(to + o, load<f32>(to + o) + all);
    if (other != 0) store<f32>(other + o, load<f32>(other + o) + all);
    behind += 8;
    before += 8;
  }
}

/**
 * Adds a row, given by its running sums and its bounds, to the `rows` rows of `out` around row `y` of them: by each of `count` rows of an
 * aperture, of 32 bytes: weights within and around as doubles, then as integers how far down it lies, its whole pixels to each side, and
 * whether as much lies above.
 */
export function spreadRow(
  out: usize,
  width: i32,
  rows: i32,
  y: i32,
  sums: usize,
  left: i32,
  right: i32,
  spans: usize,
  count: i32,
): void {
  for (let k = 0; k < count; k++) {
    const span = spans + ((<usize>k) << 5);
    const down = load<i32>(span + 16);
    const whole = load<i32>(span + 20);
    const begin = max(0, left - whole - 1);
    const end = min(width, right + whole + 1);
    const below = y + down;
    const above = y - down;
    let to = below >= 0 && below < rows ? out + ((<usize>(below * width + begin)) << 2) : 0;
    let other = load<i32>(span + 24) != 0 && above >= 0 && above < rows ? out + ((<usize>(above * width + begin)) << 2) : 0;
    if (to == 0) {
      to = other;
      other = 0;
    }
    if (to != 0) addSpan(to, other, sums + ((<usize>begin) << 3), end - begin, whole, load<f64>(span), load<f64>(span + 8));
  }
}

/** From here on nothing is free: sums of some fifty floats are not exact. */
const full: f32 = 0.99999;

/**
 * total = total + each * added * min(1, (1 - taken) / cover), cover being `each` times `covered`: what is added takes what is still free. Where
 * nothing is covered nothing is added. `taken` itself may be the total of what is covered, last of all.
 */
export function layUnder(total: usize, added: usize, covered: usize, taken: usize, n: i32, each: f32): void {
  const e4 = f32x4.splat(each);
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  const f4 = f32x4.splat(full);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const o = (<usize>i) << 2;
    const some = v128.load(covered + o);
    if (!v128.any_true(some)) continue;
    const held = v128.load(taken + o);
    const free = v128.bitselect(zero, f32x4.sub(one, held), f32x4.gt(held, f4));
    const share = f32x4.min(one, f32x4.div(free, f32x4.mul(e4, some)));
    const before = v128.load(total + o);
    const after = f32x4.add(before, f32x4.mul(f32x4.mul(e4, v128.load(added + o)), share));
    v128.store(total + o, v128.bitselect(after, before, f32x4.gt(some, zero)));
  }
  // Not beyond the end: there the next row begins.
  for (; i < n; i++) {
    const o = (<usize>i) << 2;
    const some = load<f32>(covered + o);
    if (!(some > 0)) continue;
    const held = load<f32>(taken + o);
    const free: f32 = held > full ? 0 : 1 - held;
    const share: f32 = min(<f32>1, free / (each * some));
    const part: f32 = each * load<f32>(added + o);
    store<f32>(total + o, load<f32>(total + o) + part * share);
  }
}

/** to = total / covered where more than `least` is covered, else what stands in `own`. */
export function coveredOr(to: usize, total: usize, covered: usize, own: usize, n: i32, least: f32): void {
  const l4 = f32x4.splat(least);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const c = v128.load(covered + o);
    const light = f32x4.div(v128.load(total + o), c);
    v128.store(to + o, v128.bitselect(light, v128.load(own + o), f32x4.gt(c, l4)));
  }
}
