/**
 * A rate as a fraction, as files keep it: whole rates over 1, and those that slow a whole one down by 1000/1001 (23.976, 29.97, 59.94 …, also
 * when written short, as 23.98) exactly so (SMPTE ST 12-1, clause 5.2: 30000/1001 and its like). Others to a thousandth.
 */
export function rateFraction(rate: number): [numerator: number, denominator: number] {
  const whole = Math.round(rate);
  if (Math.abs(rate - whole) < 1e-6) return [whole, 1];
  const slowed = Math.round(rate * 1.001);
  if (Math.abs(rate - (slowed * 1000) / 1001) < 0.005) return [slowed * 1000, 1001];
  return [Math.round(rate * 1000), 1000];
}
