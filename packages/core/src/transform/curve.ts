import type { StraightAndPower } from '../colour/curves.ts';

/**
 * The curve "straight near 0, a power above" from its gamma and offset, joined where value and slope agree:
 * the family of which sRGB is a member (IEC 61966-2-1 with gamma 2.4 and offset 0.055).
 */
export function curveOfGammaAndOffset(gammaAsked: number, offsetAsked: number): StraightAndPower {
  const power = Math.max(1.000001, gammaAsked);
  const offset = Math.max(0.000001, offsetAsked);
  const cutEncoded = offset / (power - 1);
  const slope = ((power - 1) / offset) * ((offset * power) / ((power - 1) * (1 + offset))) ** power;
  return { cutEncoded, cutLinear: slope * cutEncoded, slope: 1 / slope, scale: 1 + offset, power, offset };
}
