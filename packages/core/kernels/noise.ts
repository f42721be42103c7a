// Numbers by chance that hang on their place alone.

/**
 * A row of numbers of mean 0 and spread 1, nearly normal: the sum of the four bytes of a 32-bit hash of `seed + x`, less its mean, over
 * `spread`. The hash is PCG's output permutation (M. E. O'Neill, 2014), as published for shaders by Jarzynski and Olano (JCGT 9-3, 2020).
 */
export function noiseRow(to: usize, n: i32, seed: i32, spread: f32): void {
  const factor = i32x4.splat(747796405);
  const offset = i32x4.splat(<i32>2891336453);
  const second = i32x4.splat(277803737);
  const byte = i32x4.splat(255);
  const mean = i32x4.splat(510);
  const s4 = f32x4.splat(spread);
  let x = i32x4.add(i32x4.splat(seed), i32x4(0, 1, 2, 3));
  for (let i = 0; i < n; i += 4) {
    const state = i32x4.add(i32x4.mul(x, factor), offset);
    // The shift is another for each: 4 to 19 bits, by the state's own highest.
    const shifted = i32x4(
      shiftedByItself(i32x4.extract_lane(state, 0)),
      shiftedByItself(i32x4.extract_lane(state, 1)),
      shiftedByItself(i32x4.extract_lane(state, 2)),
      shiftedByItself(i32x4.extract_lane(state, 3)),
    );
    const word = i32x4.mul(v128.xor(shifted, state), second);
    const hash = v128.xor(i32x4.shr_u(word, 22), word);
    const low = i32x4.add(v128.and(hash, byte), v128.and(i32x4.shr_u(hash, 8), byte));
    const high = i32x4.add(v128.and(i32x4.shr_u(hash, 16), byte), i32x4.shr_u(hash, 24));
    const sum = i32x4.sub(i32x4.add(low, high), mean);
    v128.store(to + ((<usize>i) << 2), f32x4.div(f32x4.convert_i32x4_s(sum), s4));
    x = i32x4.add(x, i32x4.splat(4));
  }
}

function shiftedByItself(state: i32): i32 {
  const s = <u32>state;
  return <i32>(s >> ((s >> 28) + 4));
}

/** to = light + strength * (ofOwn * own + ofShared * shared), `shared` none for 0. */
export function addNoise(
  to: usize,
  light: usize,
  strength: usize,
  own: usize,
  ofOwn: f32,
  shared: usize,
  ofShared: f32,
  n: i32,
): void {
  const o4 = f32x4.splat(ofOwn);
  const s4 = f32x4.splat(ofShared);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    let noise = f32x4.mul(o4, v128.load(own + o));
    if (shared != 0) noise = f32x4.add(noise, f32x4.mul(s4, v128.load(shared + o)));
    v128.store(to + o, f32x4.add(v128.load(light + o), f32x4.mul(noise, v128.load(strength + o))));
  }
}
