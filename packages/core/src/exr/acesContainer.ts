import { ap0 } from '../colour/primaries.ts';
import type { PartToWrite } from './write.ts';
import type { Box, ExrAttribute, ExrPart } from './types.ts';

/**
 * A part in the ACES container form (SMPTE ST 2065-4): half-float R, G, B and, when there is one, A; ACES2065-1 primaries; no
 * compression; scan lines from the top; the flag that says so. The caller brings samples that are in ACES2065-1.
 */
export function acesContainerPart(
  dataWindow: Box,
  displayWindow: Box,
  alpha: boolean,
  attributes: Readonly<Record<string, ExrAttribute>> = {},
): PartToWrite {
  return {
    compression: 'none',
    dataWindow,
    displayWindow,
    channels: ['R', 'G', 'B', ...(alpha ? ['A'] : [])].map((name) => ({ name, type: 'half' as const })),
    attributes: {
      ...attributes,
      acesImageContainerFlag: { type: 'int', value: 1 },
      chromaticities: { type: 'chromaticities', value: ap0 },
      colorInteropID: { type: 'string', value: 'lin_ap0_scene' },
    },
  };
}

/** What of a part goes against the ACES container form, in words; none when it is one. */
export function acesContainerFaults(part: ExrPart): string[] {
  const faults: string[] = [];
  const names = part.channels.map((c) => c.name).join();
  if (part.attributes.get('acesImageContainerFlag')?.value !== 1) faults.push('acesImageContainerFlag is not 1');
  if (part.compression !== 'none') faults.push(`packed with ${part.compression.toUpperCase()}`);
  if (part.type !== 'scanlineimage') faults.push('not stored as scan lines');
  if (names !== 'B,G,R' && names !== 'A,B,G,R') faults.push(`channels ${names} in place of R, G, B and perhaps A`);
  if (part.channels.some((c) => c.type !== 'half')) faults.push('samples that are not half');
  const found = JSON.stringify(part.attributes.get('chromaticities')?.value ?? null, rounded);
  if (found !== JSON.stringify(ap0, rounded)) faults.push('chromaticities that are not those of ACES2065-1');
  return faults;
}

const rounded = (_: string, v: unknown) => (typeof v === 'number' ? v.toFixed(4) : v);
