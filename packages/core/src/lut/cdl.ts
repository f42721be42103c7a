import type { Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import type { Transform, TransformOf } from '../transform/transform.ts';
import { childOf, elementNumbers, parseXml, type Element } from './xml.ts';

/** One correction of a .cc, .ccc or .cdl file. */
export interface Correction {
  readonly id: string;
  readonly description: string;
  readonly transform: TransformOf<'cdl'>;
}

/**
 * All corrections of a file, in order. ASC CDL 1.2: ColorCorrection, ColorCorrectionCollection, ColorDecisionList; its ids are unique, so a
 * file with one twice is refused, as the reference library refuses it.
 */
export function readCorrections(bytes: Uint8Array, file: string): Correction[] {
  const root = parseXml(bytes, file);
  const found: Element[] = [];
  const visit = (element: Element): void => {
    if (element.name.toLowerCase() === 'colorcorrection') found.push(element);
    else element.children.forEach(visit);
  };
  visit(root);
  if (found.length === 0) throw new ColourFileError('no <ColorCorrection> is in it.', root.place);
  const corrections = found.map(correction);
  const ids = new Set<string>();
  for (const { id, transform } of corrections) {
    if (id !== '' && ids.has(id))
      throw new ColourFileError(`the id "${id}" stands twice: each correction needs its own.`, transform.place!);
    ids.add(id);
  }
  return corrections;
}

/**
 * One correction as a transform, chosen by id or, when the name is a number, by place (from 0); the first when none is named.
 * Throws when there is no such correction. `clamp` asks for the clamps of the ASC formula.
 */
export function pickCorrection(bytes: Uint8Array, file: string, id: string | undefined, clamp: boolean): Transform {
  const all = readCorrections(bytes, file);
  const chosen = !id ? all[0] : (all.find((c) => c.id === id) ?? (/^\d+$/.test(id) ? all[Number(id)] : undefined));
  if (!chosen)
    throw new ColourFileError(
      `it has no correction "${id}"; it has ${all.map((c, i) => c.id || String(i)).join(', ')}.`,
      { file, line: 0 },
      'missing-name',
    );
  return { ...chosen.transform, clamp };
}

function correction(element: Element): Correction {
  const sop = childOf(element, 'SOPNode') ?? childOf(element, 'SOPnode');
  const sat = childOf(element, 'SatNode') ?? childOf(element, 'SATNode');
  const three = (name: string, otherwise: Vector3): Vector3 => {
    const child = sop && childOf(sop, name);
    return child ? (elementNumbers(child, 3) as unknown as Vector3) : otherwise;
  };
  const saturation = sat && childOf(sat, 'Saturation');
  return {
    id: element.attributes['id'] ?? '',
    description: (childOf(element, 'Description')?.text ?? (sop && childOf(sop, 'Description')?.text) ?? '').trim(),
    transform: {
      type: 'cdl',
      direction: 'forward',
      slope: three('Slope', [1, 1, 1]),
      offset: three('Offset', [0, 0, 0]),
      power: three('Power', [1, 1, 1]),
      saturation: saturation ? elementNumbers(saturation, 1)[0]! : 1,
      clamp: false,
      place: element.place,
    },
  };
}

/** A correction as a .cc file: ASC CDL 1.2, one ColorCorrection. */
export function writeCorrection({
  id,
  slope,
  offset,
  power,
  saturation,
}: {
  readonly id: string;
  readonly slope: Vector3;
  readonly offset: Vector3;
  readonly power: Vector3;
  readonly saturation: number;
}): string {
  const escaped = id.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
  return `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrection xmlns="urn:ASC:CDL:v1.2" id="${escaped}">
  <SOPNode>
    <Slope>${slope.join(' ')}</Slope>
    <Offset>${offset.join(' ')}</Offset>
    <Power>${power.join(' ')}</Power>
  </SOPNode>
  <SatNode>
    <Saturation>${saturation}</Saturation>
  </SatNode>
</ColorCorrection>
`;
}
