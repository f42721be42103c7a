import type { Primaries } from '../colour/primaries.ts';
import { linearSpaceOf } from '../colour/spaces.ts';
import { compressions, type AttributeValue, type Box, type ExrAttribute } from './types.ts';

const lineOrders = ['from the top', 'from the bottom', 'in any order'];
const levelModes = ['one level', 'mip-map', 'rip-map'];
const environments = ['latitude and longitude', 'cube'];

/** A header attribute as a person reads it. Lengths are bounded: headers may hold anything. */
export function describeAttribute({ type, value }: ExrAttribute): string {
  return plain(type, value).slice(0, 400);
}

function plain(type: string, value: AttributeValue): string {
  switch (type) {
    case 'compression':
      return compressions[value as number]?.toUpperCase() ?? String(value);
    case 'lineOrder':
      return lineOrders[value as number] ?? String(value);
    case 'envmap':
      return environments[value as number] ?? String(value);
    case 'box2i':
      return window(value as Box);
    case 'chromaticities':
      return primaries(value as Primaries);
    case 'rational':
      return rational(value as readonly number[]);
    case 'timecode':
      return timecode(value as readonly number[]);
    case 'tiledesc': {
      const { xSize, ySize, mode } = value as { xSize: number; ySize: number; mode: number };
      return `${xSize} × ${ySize}, ${levelModes[mode & 15] ?? 'unknown levels'}${mode >> 4 ? ', rounded up' : ''}`;
    }
    case 'preview':
      return `${(value as Uint8Array).length} bytes of preview`;
  }
  if (value instanceof Uint8Array) return `${value.length} bytes of type ${type}`;
  if (Array.isArray(value)) return value.map((v) => (typeof v === 'number' ? number(v) : String(v))).join(', ');
  return typeof value === 'number' ? number(value) : typeof value === 'object' ? JSON.stringify(value) : String(value);
}

/** Floats come back with seven digits that mean something. */
const number = (v: number) => (Number.isFinite(v) ? String(Number(v.toPrecision(7))) : String(v));

function window({ xMin, yMin, xMax, yMax }: Box): string {
  return `${xMax - xMin + 1} × ${yMax - yMin + 1} from ${xMin}, ${yMin}`;
}

function primaries(p: Primaries): string {
  const pair = ([x, y]: readonly [number, number]) => `${number(x)} ${number(y)}`;
  const known = linearSpaceOf(p);
  const numbers = `R ${pair(p.red)}, G ${pair(p.green)}, B ${pair(p.blue)}, white ${pair(p.white)}`;
  return known ? `${known.name}: ${numbers}` : numbers;
}

function rational([over, under]: readonly number[]): string {
  return under === 1 ? number(over!) : `${over} / ${under} = ${number(over! / under!)}`;
}

/** Binary-coded hours, minutes, seconds and frames (SMPTE ST 12-1; OpenEXR keeps them as its first word). */
function timecode([word]: readonly number[]): string {
  const two = (shift: number, tens: number) =>
    String(((word! >> (shift + 4)) & tens) * 10 + ((word! >> shift) & 15)).padStart(2, '0');
  const drop = (word! >> 6) & 1;
  return `${two(24, 3)}:${two(16, 7)}:${two(8, 7)}${drop ? ';' : ':'}${two(0, 3)}`;
}
