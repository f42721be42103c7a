/** A curve that is straight near 0 and a power above: linear light L to encoded V, and back. */
export interface StraightAndPower {
  /** V = slope · L up to this L. */
  readonly cutLinear: number;
  /** L = V / slope up to this V. */
  readonly cutEncoded: number;
  readonly slope: number;
  /** V = scale · L^(1/power) − offset above. */
  readonly scale: number;
  readonly power: number;
  readonly offset: number;
}

/** IEC 61966-2-1:1999, 5.2 (encoding 5.2.3, decoding 5.2.1 in the amended form). */
export const srgbCurve: StraightAndPower = {
  cutLinear: 0.0031308,
  cutEncoded: 0.04045,
  slope: 12.92,
  scale: 1.055,
  power: 2.4,
  offset: 0.055,
};

/** ITU-R BT.709-6, item 1.2: V = 1.099 L^0.45 − 0.099, V = 4.5 L below 0.018. */
export const rec709Curve: StraightAndPower = {
  cutLinear: 0.018,
  cutEncoded: 0.081,
  slope: 4.5,
  scale: 1.099,
  power: 1 / 0.45,
  offset: 0.099,
};

/** ITU-R BT.1886, annex 1: L = a · max(V + b, 0)^2.4; with black at 0 and white at 1, a = 1 and b = 0. */
export const bt1886Power = 2.4;
