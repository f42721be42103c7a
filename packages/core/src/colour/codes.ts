import { bt1886Power, srgbCurve } from './curves.ts';

/** How a display's codes 0 … 1 stand for light. */
export type CodeEncoding = 'srgb' | 'bt1886';

const { cutLinear, cutEncoded, slope, scale, power, offset } = srgbCurve;

/** One code as light, 1 at the display's white, in float64: for proofs and tables; pictures go through the kernels. */
export function lightOfCode(v: number, encoding: CodeEncoding): number {
  if (encoding === 'bt1886') return v ** bt1886Power;
  return v <= cutEncoded ? v / slope : ((v + offset) / scale) ** power;
}

/** Light as a code, the way back. */
export function codeOfLight(l: number, encoding: CodeEncoding): number {
  if (encoding === 'bt1886') return l ** (1 / bt1886Power);
  return l <= cutLinear ? l * slope : scale * l ** (1 / power) - offset;
}
