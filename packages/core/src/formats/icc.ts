import { adaptation, samePrimaries, type Primaries } from '../colour/primaries.ts';
import { apply3, type Vector3 } from '../colour/matrix.ts';
import { bt1886Power, gammas, rec709Curve, srgbCurve, type StraightAndPower } from '../colour/curves.ts';
import { colourSpaces, type ColourSpace } from '../colour/spaces.ts';
import type { Evidence } from '../intake/evidence.ts';

/** White of the profile connection space (ICC.1:2022, 7.2.16), in x and y. */
const d50xy: readonly [number, number] = [0.3457, 0.3585];

/**
 * What an ICC profile says (ICC.1:2022): its description, and the known space whose primaries and curve are nearest to its matrix and
 * tone curves. Profiles with tables instead of a matrix are named by their description only.
 */
export function iccEvidence(profile: Uint8Array): Evidence[] {
  const tags = readTags(profile);
  if (!tags) return [{ from: 'ICC profile', says: 'damaged' }];
  const name = description(tags.get('desc')) ?? 'without a name';
  const curve = toneCurve(tags.get('gTRC') ?? tags.get('kTRC'));
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((t) => xyz(tags.get(t)));
  const match = curve && columns.every((c) => c !== undefined) ? nearestSpace(columns as Vector3[], curve) : undefined;
  return [
    {
      from: 'ICC profile',
      says: `"${name}"${match ? `, ${match.name}` : ''}`,
      ...(match ? { space: match.name } : {}),
    },
  ];
}

/** The tags by signature; undefined when the profile's table does not fit its length. */
function readTags(profile: Uint8Array): Map<string, DataView> | undefined {
  const view = new DataView(profile.buffer, profile.byteOffset, profile.byteLength);
  if (profile.length < 132) return undefined;
  const count = view.getUint32(128);
  if (count > 1000 || 132 + count * 12 > profile.length) return undefined;
  const tags = new Map<string, DataView>();
  for (let i = 0; i < count; i++) {
    const at = 132 + i * 12;
    const signature = String.fromCharCode(...profile.subarray(at, at + 4));
    const [offset, size] = [view.getUint32(at + 4), view.getUint32(at + 8)];
    if (offset + size > profile.length || size < 8) return undefined;
    tags.set(signature, new DataView(profile.buffer, profile.byteOffset + offset, size));
  }
  return tags;
}

const signatureOf = (tag: DataView) => String.fromCharCode(...[0, 1, 2, 3].map((i) => tag.getUint8(i)));

function description(tag: DataView | undefined): string | undefined {
  if (!tag || tag.byteLength < 12) return undefined;
  const kind = signatureOf(tag);
  // textDescriptionType of version 2 (ICC.1:2001, 6.5.17): length, then ASCII with a zero.
  if (kind === 'desc') return text(tag, 12, Math.min(tag.getUint32(8), tag.byteLength - 12), 1);
  // multiLocalizedUnicodeType (ICC.1:2022, 10.15): the first record.
  if (kind !== 'mluc' || tag.byteLength < 28) return undefined;
  const [length, offset] = [tag.getUint32(20), tag.getUint32(24)];
  return offset + length <= tag.byteLength ? text(tag, offset, length, 2) : undefined;
}

function text(tag: DataView, at: number, length: number, unit: 1 | 2): string {
  let out = '';
  for (let i = at; i + unit <= at + length; i += unit) {
    const code = unit === 1 ? tag.getUint8(i) : tag.getUint16(i);
    if (code === 0) break;
    out += String.fromCharCode(code);
  }
  return out.slice(0, 100);
}

/** XYZType (10.31): fixed-point numbers with 16 bits behind the point. */
function xyz(tag: DataView | undefined): Vector3 | undefined {
  if (!tag || signatureOf(tag) !== 'XYZ ' || tag.byteLength < 20) return undefined;
  return [8, 12, 16].map((at) => tag.getInt32(at) / 65536) as unknown as Vector3;
}

/** A tone curve, device value to linear: curveType (10.6) or parametricCurveType (10.18). */
function toneCurve(tag: DataView | undefined): ((x: number) => number) | undefined {
  if (!tag || tag.byteLength < 12) return undefined;
  if (signatureOf(tag) === 'curv') {
    const count = tag.getUint32(8);
    if (count === 0) return (x) => x;
    if (12 + count * 2 > tag.byteLength) return undefined;
    if (count === 1) return (x) => x ** (tag.getUint16(12) / 256);
    return (x) => {
      const at = x * (count - 1);
      const i = Math.min(count - 2, Math.floor(at));
      const [a, b] = [tag.getUint16(12 + i * 2), tag.getUint16(14 + i * 2)];
      return (a + (b - a) * (at - i)) / 65535;
    };
  }
  if (signatureOf(tag) !== 'para') return undefined;
  const kind = tag.getUint16(8);
  const counts = [1, 3, 4, 5, 7];
  const n = counts[kind];
  if (n === undefined || 12 + n * 4 > tag.byteLength) return undefined;
  const [g = 1, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from(
    { length: n },
    (_, i) => tag.getInt32(12 + i * 4) / 65536,
  );
  const power = (x: number) => Math.max(0, a * x + b) ** g;
  // Table 68: kinds 0 to 4.
  return (x) => {
    if (kind === 0) return x ** g;
    if (kind === 1) return x >= -b / a ? power(x) : 0;
    if (kind === 2) return x >= -b / a ? power(x) + c : c;
    return x >= d ? power(x) + (kind === 4 ? e : 0) : c * x + (kind === 4 ? f : 0);
  };
}

const straightAndPower = (c: StraightAndPower) => (x: number) =>
  x <= c.cutEncoded ? x / c.slope : ((x + c.offset) / c.scale) ** c.power;

/** Curves to linear of the spaces that a profile may mean. */
const curves: Readonly<Record<string, (x: number) => number>> = {
  linear: (x) => x,
  srgb: straightAndPower(srgbCurve),
  rec709: straightAndPower(rec709Curve),
  bt1886: (x) => x ** bt1886Power,
  g18: (x) => x ** gammas.g18,
  g22: (x) => x ** gammas.g22,
  g26: (x) => x ** gammas.g26,
};

function nearestSpace(columns: readonly Vector3[], curve: (x: number) => number): ColourSpace | undefined {
  const primaries = primariesOf(columns);
  const distance = (space: ColourSpace) => {
    const own = curves[space.encoding];
    if (!own || !samePrimaries(space.primaries, primaries, 4e-3)) return Infinity;
    return Math.max(...Array.from({ length: 31 }, (_, i) => Math.abs(own((i + 1) / 32) - curve((i + 1) / 32))));
  };
  const ranked = colourSpaces.map((space) => ({ space, far: distance(space) })).sort((a, b) => a.far - b.far);
  return ranked[0]!.far < 0.01 ? ranked[0]!.space : undefined;
}

/** A profile's columns are adapted to D50: taken back to the white of each set of primaries that is tried, D65 first. */
function primariesOf(columns: readonly Vector3[]): Primaries {
  const back = adaptation(d50xy, [0.3127, 0.329]);
  const xy = (v: Vector3): readonly [number, number] => {
    const [x, y, z] = apply3(back, v);
    return [x / (x + y + z), y / (x + y + z)];
  };
  return { red: xy(columns[0]!), green: xy(columns[1]!), blue: xy(columns[2]!), white: [0.3127, 0.329] };
}
