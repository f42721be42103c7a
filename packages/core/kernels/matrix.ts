/** [r,g,b] := M [r,g,b] in place; m points to nine floats, row by row. Sums run left to right. */
export function matrix3(r: usize, g: usize, b: usize, n: i32, m: usize): void {
  const m0 = v128.load_splat<f32>(m);
  const m1 = v128.load_splat<f32>(m, 4);
  const m2 = v128.load_splat<f32>(m, 8);
  const m3 = v128.load_splat<f32>(m, 12);
  const m4 = v128.load_splat<f32>(m, 16);
  const m5 = v128.load_splat<f32>(m, 20);
  const m6 = v128.load_splat<f32>(m, 24);
  const m7 = v128.load_splat<f32>(m, 28);
  const m8 = v128.load_splat<f32>(m, 32);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o);
    const y = v128.load(g + o);
    const z = v128.load(b + o);
    v128.store(r + o, f32x4.add(f32x4.add(f32x4.mul(m0, x), f32x4.mul(m1, y)), f32x4.mul(m2, z)));
    v128.store(g + o, f32x4.add(f32x4.add(f32x4.mul(m3, x), f32x4.mul(m4, y)), f32x4.mul(m5, z)));
    v128.store(b + o, f32x4.add(f32x4.add(f32x4.mul(m6, x), f32x4.mul(m7, y)), f32x4.mul(m8, z)));
  }
}

/** r *= kr, g *= kg, b *= kb in place: a diagonal matrix, without touching one channel's NaN with another's. */
export function scale3(r: usize, g: usize, b: usize, n: i32, kr: f32, kg: f32, kb: f32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(r + o, f32x4.mul(v128.load(r + o), f32x4.splat(kr)));
    v128.store(g + o, f32x4.mul(v128.load(g + o), f32x4.splat(kg)));
    v128.store(b + o, f32x4.mul(v128.load(b + o), f32x4.splat(kb)));
  }
}
