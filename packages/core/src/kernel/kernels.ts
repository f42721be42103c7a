/**
 * The kernel module's interface: what both the WebAssembly build and the TypeScript twins provide.
 *
 * Pointers are byte offsets into `memory`, 16-byte aligned; `n` counts samples. A kernel may touch up to three
 * samples of padding after `n`. Planes are 32-bit float unless a name says half. See `kernels/*.ts`.
 */
export interface Kernels {
  readonly memory: { readonly buffer: ArrayBufferLike; grow(pages: number): number };
  halfToFloat(source: number, destination: number, n: number): void;
  floatToHalf(source: number, destination: number, n: number): void;
  exp2Plane(plane: number, n: number): void;
  log2Plane(plane: number, n: number): void;
  powPlane(plane: number, n: number, exponent: number): void;
  /** x^exponent above 0; what lies at 0 or below stays. */
  powKeepPlane(plane: number, n: number, exponent: number): void;
  /** |x|^exponent with the sign of x. */
  powMirrorPlane(plane: number, n: number, exponent: number): void;
  /** A table of `count` floats over 0 … 1. */
  tablePlane(plane: number, n: number, table: number, count: number): void;
  /** A curve by a table over the floats themselves; see the kernel. `first` are the bits of its first float. */
  curveTable(
    plane: number,
    n: number,
    table: number,
    first: number,
    shift: number,
    low: number,
    high: number,
    straight: number,
    held: number,
    offset: number,
  ): void;
  /** 1 when a sample lies above a value or is no number, else 0. */
  anyAbove(plane: number, n: number, high: number): number;
  /** `cube` points at size³ colours of four floats, red fastest. */
  cubeTetrahedral(r: number, g: number, b: number, n: number, cube: number, size: number): void;
  cubeTrilinear(r: number, g: number, b: number, n: number, cube: number, size: number): void;
  matrix3(r: number, g: number, b: number, n: number, matrix: number): void;
  scale3(r: number, g: number, b: number, n: number, kr: number, kg: number, kb: number): void;
  addScaled(total: number, entry: number, n: number, k: number): void;
  multiplyMixed(total: number, entry: number, n: number, mix: number): void;
  coverPremultiplied(total: number, entry: number, alpha: number, n: number, mix: number): void;
  fillPlane(plane: number, n: number, value: number): void;
  multiplyPlanes(a: number, b: number, n: number): void;
  dividePlanes(a: number, b: number, n: number): void;
  /** The way back from dividePlanes: a *= b, and where b is 0 what stood there before. */
  restorePlanes(a: number, b: number, before: number, n: number): void;
  /** total = total / entry, and 0 where entry is 0. */
  divideOrZero(total: number, entry: number, n: number): void;
  fillUncovered(total: number, entry: number, alpha: number, n: number): void;
  screenPlanes(total: number, entry: number, n: number): void;
  maxPlanes(total: number, entry: number, n: number): void;
  minPlanes(total: number, entry: number, n: number): void;
  copyPlane(to: number, from: number, n: number): void;
  mixByMatte(total: number, result: number, matte: number, n: number, mix: number): void;
  /** to = from + share * (value - from). */
  mixTowards(to: number, from: number, share: number, n: number, value: number): void;
  /** `reach + 1` weights, the middle's first; `from` has `reach` samples around. */
  filterRow(to: number, from: number, n: number, weights: number, reach: number): void;
  /** `rows` points at 2 * reach + 1 pointers (32 bits each) to rows. */
  filterColumn(to: number, rows: number, n: number, weights: number, reach: number): void;
  keepFinite(plane: number, n: number): void;
  /** Where among `count` falling radii the circles of confusion of depths above 0 lie. */
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
  ): void;
  /** A bit for each layer, up to 32. */
  layersOfRow(places: number, n: number): number;
  /** `bounds` points at two integers: the first pixel of the layer, and the one after its last. */
  layerShares(to: number, places: number, n: number, layer: number, bounds: number): void;
  /** `sums` points at pixel 0's own of doubles, with `reach` before it and `width + 1 + reach` from it on; `plane` 0 sums the shares alone. */
  rowSums(sums: number, plane: number, shares: number, left: number, right: number, reach: number, width: number): void;
  /** `spans` points at `count` rows of an aperture of 32 bytes each; see the kernel. */
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
  ): void;
  /** What is added takes what is still free beside `taken`, which may be `total`. */
  layUnder(total: number, added: number, covered: number, taken: number, n: number, each: number): void;
  /** to = total / covered where more than `least` is covered, else what stands in `own`. */
  coveredOr(to: number, total: number, covered: number, own: number, n: number, least: number): void;
  /** Depths with what is no surface at `sky`; `zeroIsSky` 1 or 0. */
  surfaceDepths(to: number, from: number, n: number, sky: number, zeroIsSky: number, least: number): void;
  exponentsOfDepth(to: number, depths: number, n: number, start: number, k: number): void;
  /** In place: most * (1 - left), and `ofSky` where the depth is that of the sky. */
  lostOfLeft(left: number, depths: number, n: number, most: number, sky: number, ofSky: number): void;
  /** Bytes of 1 or 0. */
  calmBytes(to: number, low: number, high: number, n: number, jump: number): void;
  /** `n` is a multiple of 16; bytes up to `shift` behind are read. */
  joinBytes(bytes: number, n: number, shift: number): void;
  /** Two places at `sides` for each of `count` at `list`, or -1; see the kernel. */
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
  ): void;
  /** Integers to `list`, of whose number it tells. */
  listZeros(list: number, bytes: number, n: number, first: number): number;
  /** In place: 0 up to `low`, 1 from `high` on; `smooth` 1 or 0. */
  rampPlane(plane: number, n: number, low: number, high: number, smooth: number): void;
  /** 1 from `near` to `far`, falling off before and behind; 0 from `none` on. */
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
  ): void;
  /** In place, of distances: 1 at 0 and below, 0 from `falloff` on. */
  falloffPlane(plane: number, n: number, falloff: number, smooth: number): void;
  /** How far places lie outside; `shape` points at its floats, see the kernels. */
  sphereDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void;
  boxDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void;
  planeDistance(to: number, xs: number, ys: number, zs: number, n: number, shape: number): void;
  /** to = light + strength * (ofOwn * own + ofShared * shared), `shared` none for 0. */
  addNoise(
    to: number,
    light: number,
    strength: number,
    own: number,
    ofOwn: number,
    shared: number,
    ofShared: number,
    n: number,
  ): void;
  noiseRow(to: number, n: number, seed: number, spread: number): void;
  encodeCurve(
    plane: number,
    n: number,
    cut: number,
    slope: number,
    scale: number,
    exponent: number,
    offset: number,
  ): void;
  decodeCurve(
    plane: number,
    n: number,
    cut: number,
    slope: number,
    scale: number,
    exponent: number,
    offset: number,
  ): void;
  /** `curve` points at seven floats; see the kernel. */
  encodeLog(plane: number, n: number, curve: number): void;
  decodeLog(plane: number, n: number, curve: number): void;
  encodePq(plane: number, n: number): void;
  decodePq(plane: number, n: number): void;
  offsetPlane(plane: number, n: number, offset: number): void;
  clampPlane(plane: number, n: number, low: number, high: number): void;
  acesGlowAndRed(r: number, g: number, b: number, n: number): void;
  /** `block` points at the parameters; see transform/aces2/block.ts. */
  aces2Forward(r: number, g: number, b: number, n: number, block: number): void;
  toneSpline(plane: number, n: number, first: number, second: number): void;
  /** `block` points at six floats; see the kernel. */
  surround(
    r: number,
    g: number,
    b: number,
    n: number,
    block: number,
    table: number,
    first: number,
    shift: number,
  ): void;
  luminanceSum(r: number, g: number, b: number, n: number, wr: number, wg: number, wb: number): number;
  /** Rows of 2 n samples to one of n means of squares. Reads up to six samples of padding. */
  averageSquares(to: number, upper: number, lower: number, n: number): void;
  packCodes(r: number, g: number, b: number, destination: number, n: number): void;
}
