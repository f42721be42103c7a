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
 * Where a value lies in a table, counted in entries: limited to what the table reaches, at the inner edge of flat ends. Falling tables
 * are searched with their signs turned. NaN lies nowhere and gives NaN.
 */
function placeFinder(entries: Float32Array): (v: number) => number {
  const last = entries.length - 1;
  const sign = entries[last]! < entries[0]! ? -1 : 1;
  const sorted = rising(entries.map((x) => x * sign));
  let first = 0;
  let end = last;
  while (first < end && sorted[first + 1] === sorted[first]) first++;
  while (end > first && sorted[end - 1] === sorted[end]) end--;
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
  const find = placeFinder(entries);
  const last = Math.max(entries.length - 1, 1);
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

/** Half floats in order of size: the negative ones (64511 down to 32769), then the others (0 to 31743). */
function halfInverse(entries: Float32Array): Look {
  const order: number[] = [];
  for (let bits = 0xfbff; bits > 0x8000; bits--) order.push(bits);
  for (let bits = 0; bits <= 0x7bff; bits++) order.push(bits);
  const find = placeFinder(Float32Array.from(order, (bits) => entries[bits]!));
  return (x) => {
    const at = find(x);
    if (at !== at) return 0;
    const cell = Math.min(Math.floor(at), order.length - 2);
    const [from, to] = [halfToNumber(order[cell]!), halfToNumber(order[cell + 1]!)];
    return from + (at - cell) * (to - from);
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
