/** Twins of kernels/half.ts. */
export function twinHalf(heap: () => ArrayBuffer) {
  return {
    halfToFloat(source: number, destination: number, n: number): void {
      const from = new Uint16Array(heap(), source, n);
      const to = new Uint32Array(heap(), destination, n);
      for (let i = 0; i < n; i++) to[i] = widenHalf(from[i]!);
    },
    floatToHalf(source: number, destination: number, n: number): void {
      const from = new Uint32Array(heap(), source, n);
      const to = new Uint16Array(heap(), destination, n);
      for (let i = 0; i < n; i++) to[i] = narrowToHalf(from[i]!);
    },
  };
}

/** Bits of a binary16 to bits of the equal binary32. */
export function widenHalf(h: number): number {
  const sign = (h & 0x8000) << 16;
  let exponent = (h >> 10) & 31;
  let mantissa = h & 1023;
  if (exponent === 31) return (sign | 0x7f800000 | (mantissa << 13)) >>> 0;
  if (exponent === 0) {
    if (mantissa === 0) return sign >>> 0;
    exponent = 1;
    while (!(mantissa & 1024)) {
      mantissa <<= 1;
      exponent--;
    }
    mantissa &= 1023;
  }
  return (sign | ((exponent + 112) << 23) | (mantissa << 13)) >>> 0;
}

/** Bits of a binary32 to bits of the nearest binary16, ties to even. */
export function narrowToHalf(bits: number): number {
  const sign = (bits >>> 16) & 0x8000;
  const magnitude = bits & 0x7fffffff;
  if (magnitude > 0x7f800000) return sign | 0x7e00;
  if (magnitude >= 0x47800000) return sign | 0x7c00;
  if (magnitude < 0x38800000) {
    const shift = 126 - (magnitude >>> 23);
    if (shift > 24) return sign;
    const full = (magnitude & 0x7fffff) | 0x800000;
    const kept = full >>> shift;
    const rest = full & ((1 << shift) - 1);
    const tie = 1 << (shift - 1);
    return sign | (kept + (rest > tie || (rest === tie && kept & 1) ? 1 : 0));
  }
  return sign | ((magnitude - 0x38000000 + 0xfff + ((magnitude >>> 13) & 1)) >>> 13);
}
