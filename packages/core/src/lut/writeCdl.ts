import type { CdlNumbers } from '../ledger/colourPart.ts';

const escaped = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
const three = (v: readonly number[]) => v.map((x) => String(Number(x.toPrecision(9)))).join(' ');

/** One correction as a .cc file (ASC CDL 1.2, ColorCorrection). `space` says what numbers it is for: CDLs do not say it themselves. */
export function writeCdl(id: string, { slope, offset, power, saturation }: CdlNumbers, space: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrection id="${escaped(id)}" xmlns="urn:ASC:CDL:v1.2">
  <Description>for numbers of ${escaped(space)}</Description>
  <SOPNode>
    <Slope>${three(slope)}</Slope>
    <Offset>${three(offset)}</Offset>
    <Power>${three(power)}</Power>
  </SOPNode>
  <SATNode>
    <Saturation>${String(Number(saturation.toPrecision(9)))}</Saturation>
  </SATNode>
</ColorCorrection>
`;
}
