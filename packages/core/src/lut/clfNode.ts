import type { Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import { halfToNumber } from '../image/half.ts';
import { longestTable } from './text.ts';
import { childOf, elementNumbers, type Element } from './xml.ts';

/** What the top code of each bit depth is, so that numbers come out relative to 1. */
const topCodes: Readonly<Record<string, number>> = {
  '8i': 255,
  '10i': 1023,
  '12i': 4095,
  '16i': 65535,
  '16f': 1,
  '32f': 1,
};

/** A node of a process list, its bit depths as the codes that stand for 1. */
export interface ClfNode {
  readonly element: Element;
  readonly style: string;
  readonly inTop: number;
  readonly outTop: number;
}

/** Reads what all nodes have. Throws a ColourFileError for a bit depth that is none. */
export function clfNode(element: Element): ClfNode {
  return {
    element,
    style: element.attributes['style'] ?? '',
    inTop: topCode(element, 'inBitDepth'),
    outTop: topCode(element, 'outBitDepth'),
  };
}

function topCode(element: Element, key: string): number {
  const depth = element.attributes[key];
  const top = topCodes[depth ?? '32f'];
  if (top === undefined) throw new ColourFileError(`${key} "${depth}" is no bit depth.`, element.place);
  return top;
}

/** An array with its dimensions checked. */
export function arrayOf({ element }: ClfNode, raw = false): { dimensions: number[]; values: number[] } {
  const array = childOf(element, 'Array');
  if (!array) throw new ColourFileError(`<${element.name}> has no <Array>.`, element.place);
  const dimensions = (array.attributes['dim'] ?? '').trim().split(/\s+/).map(Number);
  if (dimensions.some((d) => !Number.isInteger(d) || d < 1 || d > longestTable))
    throw new ColourFileError(`the dimensions "${array.attributes['dim'] ?? ''}" cannot be read.`, array.place);
  const values = elementNumbers(array);
  return { dimensions, values: raw ? values.map((v) => halfToNumber(v & 0xffff)) : values };
}

/** Throws when an array has not as many values as its dimensions say. */
export function checkCount(element: Element, values: readonly number[], wanted: number): void {
  if (values.length !== wanted)
    throw new ColourFileError(
      `<${element.name}>: ${wanted} values are needed, ${values.length} are there.`,
      element.place,
    );
}

export const ones: Vector3 = [1, 1, 1];
export const zeros: Vector3 = [0, 0, 0];

/** One number for each channel from elements that may name a channel. */
export function perChannel(
  elements: readonly Element[],
  key: string,
  otherwise: number | undefined,
): Vector3 | undefined {
  const out: (number | undefined)[] = [otherwise, otherwise, otherwise];
  for (const element of elements) {
    const text = element.attributes[key];
    if (text === undefined) continue;
    const value = Number(text);
    if (Number.isNaN(value)) throw new ColourFileError(`${key} "${text}" is not a number.`, element.place);
    const channel = 'RGB'.indexOf((element.attributes['channel'] ?? '').toUpperCase() || '-');
    if (channel >= 0) out[channel] = value;
    else if (!element.attributes['channel']) out.fill(value);
  }
  return out.some((x) => x === undefined) ? undefined : (out as unknown as Vector3);
}
