import { arctangentFloat, log2Float, powFloat } from './transcendental.ts';

const f = Math.fround;
const [coneExponent, coneRoot, coneOffset] = [f(0.42), f(2.380952380952381), f(27.13)] as const;

const row = (b: Float32Array, i: number, x: number, y: number, z: number) =>
  f(f(f(b[i]! * x) + f(b[i + 1]! * y)) + f(b[i + 2]! * z));

const lerp = (from: number, to: number, t: number) => f(from + f(t * f(to - from)));

function compressCone(x: number): number {
  const p = powFloat(Math.abs(x), coneExponent);
  const response = f(p / f(coneOffset + p));
  return x < 0 ? -response : response;
}

function expandSize(size: number): number {
  return powFloat(f(f(coneOffset * size) / f(1 - size)), coneRoot);
}

function expandCone(x: number): number {
  const v = expandSize(Math.min(Math.abs(x), f(0.99)));
  return x < 0 ? -v : v;
}

function hueOf(y: number, x: number): number {
  const [ax, ay] = [Math.abs(x), Math.abs(y)];
  let angle = ay < ax ? arctangentFloat(ay, ax) : arctangentFloat(ax, ax < ay ? ay : ax);
  if (ay > ax) angle = f(f(1.5707963267948966) - angle);
  if (x < 0) angle = f(f(3.141592653589793) - angle);
  const degrees = f(angle * f(57.29577951308232));
  return y < 0 ? f(360 - degrees) : degrees;
}

function toe(x: number, limit: number, k1In: number, k2In: number): number {
  if (x > limit) return x;
  const k2 = Math.max(k2In, f(0.001));
  const k1 = f(Math.sqrt(f(f(k1In * k1In) + f(k2 * k2))));
  const k3 = f(f(limit + k1) / f(limit + k2));
  const b = f(f(k3 * x) - k1);
  const c = f(f(4 * f(k2 * k3)) * x);
  return f(0.5 * f(b + f(Math.sqrt(f(f(b * b) + c)))));
}

function axisLightness(j: number, m: number, focus: number, limit: number, gain: number): number {
  const scaled = f(m / gain);
  const a = f(scaled / focus);
  const fourA = f(4 * a);
  if (j < focus) {
    const b = f(1 - scaled);
    return f(f(2 * j) / f(b + f(Math.sqrt(f(f(b * b) + f(fourA * j))))));
  }
  const b = -f(f(1 + scaled) + f(limit * a));
  const c = f(f(limit * scaled) + j);
  return f(f(-2 * c) / f(b - f(Math.sqrt(f(f(b * b) - f(fourA * c))))));
}

function meetCurve(axis: number, slope: number, power: number, top: number, most: number, cuspAxis: number): number {
  const shifted = f(cuspAxis * powFloat(f(axis / cuspAxis), power));
  return f(f(shifted * most) / f(top - f(slope * most)));
}

/** Index of the gamut table's row at or above a hue. */
function rowAbove(hue: number, rows: Float32Array, from: number, to: number): number {
  let i = 1 + Math.trunc(hue);
  let low = Math.max(0, i + from);
  let high = Math.min(361, i + to);
  while (low + 1 < high) {
    if (hue > rows[i * 4]!) low = i;
    else high = i;
    i = (low + high) >> 1;
  }
  return Math.max(1, high);
}

/** Scene colourfulness to the display's, as lightness goes from j to `shown`. */
function compressChroma(b: Float32Array, m: number, j: number, shown: number, norm: number, reach: number): number {
  const [limit, gamma] = [b[42]!, b[51]!];
  const part = f(shown / limit);
  const rest = Math.max(0, f(1 - part));
  const most = f(f(powFloat(part, gamma) * reach) / norm);
  const bend = f(Math.sqrt(f(f(part * part) + b[47]!)));
  let colour = f(f(m * powFloat(f(shown / j), gamma)) / norm);
  colour = f(most - toe(f(most - colour), f(most - f(0.001)), f(rest * b[46]!), bend));
  return f(toe(colour, most, f(part * b[48]!), rest) * norm);
}

function chromaNorm(c: number, s: number, scale: number): number {
  const [cc, ss] = [f(c * c), f(s * s)];
  const c2 = f(f(2 * cc) - 1);
  const s2 = f(f(2 * c) * s);
  const c3 = f(f(f(4 * cc) * c) - f(3 * c));
  const s3 = f(f(3 * s) - f(f(4 * ss) * s));
  let norm = f(f(11.34072) * c);
  norm = f(norm + f(f(16.46899) * c2));
  norm = f(norm + f(f(7.8838) * c3));
  norm = f(norm + f(f(14.66441) * s));
  norm = f(norm + f(f(-6.37224) * s2));
  norm = f(norm + f(f(9.19364) * s3));
  return f(f(norm + f(77.12896)) * scale);
}

/** Lightness and colourfulness within the display's gamut. */
function compressGamut(b: Float32Array, shown: number, colour: number, hue: number, reach: number): [number, number] {
  if (!(shown > 0)) return [0, 0];
  const [limit, middle, focusScale, gamma] = [b[42]!, b[43]!, b[44]!, b[51]!];
  if (!(colour > 0) || !(shown <= limit)) return [shown, 0];
  const rows = b.subarray(428);
  const at = rowAbove(hue, rows, b[52]!, b[53]!) * 4;
  const below = rows[at - 4]!;
  const t = f(f(hue - below) / f(rows[at]! - below));
  const [cuspJ, cuspM, upperPower] = [1, 2, 3].map((k) => lerp(rows[at - 4 + k]!, rows[at + k]!, t)) as [
    number,
    number,
    number,
  ];
  const focus = lerp(cuspJ, middle, Math.min(1, f(f(1.3) - f(cuspJ / limit))));
  const threshold = lerp(cuspJ, limit, f(0.3));
  const room = Math.max(f(0.0001), f(limit - shown));
  const decades = f(log2Float(f(f(limit - threshold) / room)) * f(0.3010299956639812));
  const gain = shown > threshold ? f(focusScale * f(f(decades * decades) + 1)) : focusScale;
  const axis = axisLightness(shown, colour, focus, limit, gain);
  const cuspAxis = axisLightness(cuspJ, cuspM, focus, limit, gain);
  const scaler = axis < focus ? axis : f(limit - axis);
  const slope = f(f(scaler * f(axis - focus)) / f(focus * gain));
  const lower = meetCurve(axis, slope, b[45]!, cuspJ, cuspM, cuspAxis);
  const upper = meetCurve(f(limit - axis), -slope, upperPower, f(limit - cuspJ), cuspM, f(limit - cuspAxis));
  const near = f(f(0.12) * cuspM);
  const h = f(Math.max(f(near - Math.abs(f(lower - upper))), 0) / near);
  const hull = f(Math.min(lower, upper) - f(f(f(f(h * h) * h) * near) / 6));
  if (!(hull > 0)) return [shown, 0];
  const reachHull = meetCurve(axis, slope, gamma, limit, reach, limit);
  const proportion = Math.max(f(hull / reachHull), 0.75);
  const start = f(proportion * hull);
  const reachRoom = f(reachHull - start);
  const scale = f(reachRoom / f(f(reachRoom / f(hull - start)) - 1));
  const over = f(f(colour - start) / scale);
  const kept = colour <= start || proportion >= 1;
  const moved = kept ? colour : f(start + f(f(scale * over) / f(1 + over)));
  return [f(axis + f(moved * slope)), moved];
}

/** Lightness of a grey through the tone scale. */
function toneLightness(b: Float32Array, achromatic: number): number {
  const [white, level] = [b[36]!, b[37]!];
  const scene = f(expandSize(Math.min(f(white * achromatic), f(0.99))) / level);
  const g = f(b[38]! * powFloat(f(scene / f(scene + b[39]!)), b[40]!));
  const display = f(Math.max(0, f(f(g * g) / f(g + b[41]!))) * 100);
  const p = powFloat(f(display * level), coneExponent);
  const response = f(p / f(coneOffset + p));
  return f(100 * powFloat(f(response / white), b[50]!));
}

/** Twin of kernels/aces2.ts. */
export function twinAces2(heap: () => ArrayBuffer) {
  const view = (pointer: number, n: number) => new Float32Array(heap(), pointer, n);
  return {
    aces2Forward(rp: number, gp: number, bp: number, n: number, block: number): void {
      const [red, green, blue] = [view(rp, n), view(gp, n), view(bp, n)];
      const b = view(block, 428 + 363 * 4);
      for (let i = 0; i < n; i++) {
        const x = compressCone(row(b, 0, red[i]!, green[i]!, blue[i]!));
        const y = compressCone(row(b, 3, red[i]!, green[i]!, blue[i]!));
        const z = compressCone(row(b, 6, red[i]!, green[i]!, blue[i]!));
        const response = row(b, 9, x, y, z);
        const bright = response > 0;
        const achromatic = bright ? response : 0;
        const first = bright ? row(b, 12, x, y, z) : 0;
        const second = bright ? row(b, 15, x, y, z) : 0;
        const m = f(Math.sqrt(f(f(first * first) + f(second * second))));
        const coloured = m > 0;
        const c = coloured ? f(first / m) : 1;
        const s = coloured ? f(second / m) : 0;
        const hue = coloured ? hueOf(second, first) : 0;
        const base = Math.trunc(hue);
        const low = b[64 + base + 1]!;
        const reach = f(low + f(f(hue - base) * f(b[64 + base + 2]! - low)));
        const j = f(100 * powFloat(achromatic, b[50]!));
        const shown = toneLightness(b, achromatic);
        const norm = chromaNorm(c, s, b[49]!);
        const colour = coloured ? compressChroma(b, m, j, shown, norm, reach) : 0;
        const [lightness, colourfulness] = compressGamut(b, shown, colour, hue, reach);
        const a = powFloat(f(lightness / 100), b[51]!);
        const [p, q] = [f(colourfulness * c), f(colourfulness * s)];
        const rx = expandCone(row(b, 18, a, p, q));
        const ry = expandCone(row(b, 21, a, p, q));
        const rz = expandCone(row(b, 24, a, p, q));
        red[i] = row(b, 27, rx, ry, rz);
        green[i] = row(b, 30, rx, ry, rz);
        blue[i] = row(b, 33, rx, ry, rz);
      }
    },
  };
}
