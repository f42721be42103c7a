import type { ColourStep } from '../colour/steps.ts';
import { halfToNumber, numberToHalf } from '../image/half.ts';
import { eachChannel } from './scale.ts';
import type { Direction, Table1D } from './transform.ts';

type Look = (x: number) => number;

/**
 * Steps of a 1D table. Between entries it is linear (the reference treats nearest and cubic so too); ends are held. The
 * inverse clamps to what the table reaches, treats a part that turns back as flat, and of a flat end takes the inner edge.
 */
export function table1dSteps(table: Table1D, way: Direction): ColourStep[] {
  const { channels, halfDomain, hueAdjust } = table;
  if (way === 'forward' && !halfDomain && !hueAdjust) {
    const shared = channels[0] === channels[1] && channels[1] === channels[2];
    return [
      shared ? { kind: 'table', table: channels[0] } : eachChannel((c) => ({ kind: 'table', table: channels[c] })),
    ];
  }
  const inverse = way === 'inverse';
  if (hueAdjust) return [{ kind: 'plain', recipe: { what: 'hueTable', channels, halfDomain, inverse } }];
  return [
    eachChannel((c) => ({ kind: 'plainPlane', recipe: { what: 'table', entries: channels[c], halfDomain, inverse } })),
  ];
}

/** A table as a function. */
export function lookUp(entries: Float32Array, halfDomain: boolean, way: Direction): Look {
  if (halfDomain) return way === 'forward' ? halfForward(entries) : halfInverse(entries);
  return way === 'forward' ? plainForward(entries) : plainInverse(entries);
}

function plainForward(entries: Float32Array): Look {
  const last = entries.length - 1;
  return (x) => {
    const at = Math.min(Math.max(x * last, 0), last) || 0;
    const i = Math.min(Math.floor(at), Math.max(last - 1, 0));
    const a = entries[i]!;
    return a + (at - i) * ((entries[i + 1] ?? a) - a);
  };
}

/** Entries of a rising table: what turns back is made flat, so that every value has one place. */
function rising(entries: ArrayLike<number>): Float32Array {
  const out = Float32Array.from(entries);
  for (let i = 1; i < out.length; i++) if (out[i]! < out[i - 1]!) out[i] = out[i - 1]!;
  return out;
}

/**
 * Where a value lies in a table, counted in entries: limited to what the table reaches, at the inner edge of flat ends, at the start of a
 * table that is flat throughout. Falling tables (sign -1) are searched with their signs turned. NaN lies nowhere and gives NaN.
 */
function placeFinder(entries: Float32Array, sign: 1 | -1): (v: number) => number {
  const sorted = rising(entries.map((x) => x * sign));
  let first = 0;
  let end = entries.length - 1;
  while (end > 0 && sorted[end - 1] === sorted[end]) end--;
  while (first < end && sorted[first + 1] === sorted[first]) first++;
  return (wanted) => {
    const v = Math.min(Math.max(wanted * sign, sorted[first]!), sorted[end]!);
    if (v !== v) return NaN;
    let low = first;
    let high = end;
    // The first entry that is not below v.
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sorted[middle]! < v) low = middle + 1;
      else high = middle;
    }
    const cell = low > first ? low - 1 : low;
    const [a, b] = [sorted[cell]!, sorted[Math.min(cell + 1, end)]!];
    return cell + (b > a ? (v - a) / (b - a) : 0);
  };
}

function plainInverse(entries: Float32Array): Look {
  const last = Math.max(entries.length - 1, 1);
  const find = placeFinder(entries, entries[last]! < entries[0]! ? -1 : 1);
  return (x) => (find(x) || 0) / last;
}

function halfForward(entries: Float32Array): Look {
  return (x) => {
    if (x !== x) return entries[0x7e00] ?? 0;
    let bits = numberToHalf(x);
    if ((bits & 0x7fff) === 0x7c00) bits = (bits & 0x8000) | 0x7bff;
    const near = halfToNumber(bits);
    const beyond = Math.abs(near) > Math.abs(x);
    const low = beyond ? bits - 1 : bits;
    const high = Math.min((low & 0x7fff) + 1, 0x7bff) | (low & 0x8000);
    const [from, to] = [halfToNumber(low), halfToNumber(high)];
    const a = entries[low]!;
    if (from === to) return a;
    const t = Math.min((x - from) / (to - from), 1);
    return a + t * (entries[high]! - a);
  };
}

const halfOne = 0x3c00;
const largestHalf = 0x7bff;
const signBit = 0x8000;

/**
 * The two halves of the domain are searched apart, each outwards from 0: the value at 0 tells in which one a value lies, and those at 0 and 1
 * whether the table rises.
 */
function halfInverse(entries: Float32Array): Look {
  const sign = entries[0]! < entries[halfOne]! ? 1 : -1;
  const outwards = (from: number) => entries.subarray(from, from + largestHalf + 1);
  const above = placeFinder(outwards(0), sign);
  const below = placeFinder(outwards(signBit), sign === 1 ? -1 : 1);
  return (x) => {
    const negative = x >= entries[0]! !== (sign === 1);
    const at = negative ? below(x) : above(x);
    if (at !== at) return 0;
    const cell = Math.min(Math.floor(at), largestHalf - 1);
    const [from, to] = [halfToNumber(cell), halfToNumber(cell + 1)];
    const size = from + (at - cell) * (to - from);
    return negative ? -size : size;
  };
}

/** The largest and smallest channel go through their tables; the middle one keeps its place between them. */
export function hueKept(looks: readonly [Look, Look, Look]): (p: [number, number, number]) => void {
  return (p) => {
    // Of equal channels the later one counts as the larger, as in the reference.
    const [high, middle, low] = [2, 1, 0].sort((x, y) => p[y]! - p[x]!) as [number, number, number];
    const chroma = p[high]! - p[low]!;
    const share = chroma === 0 ? 0 : (p[middle]! - p[low]!) / chroma;
    for (let c = 0; c < 3; c++) p[c] = looks[c]!(p[c]!);
    p[middle] = share * (p[high]! - p[low]!) + p[low]!;
  };
}
