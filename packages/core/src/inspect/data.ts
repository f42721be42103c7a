/** How numbers that are no light are shown: `near` black and `far` white, or the other way round where near is the greater. */
export interface DataRange {
  readonly near: number;
  readonly far: number;
}

/** A number within a range as an 8-bit code; what lies beyond has the end's, what is no number has none (0). */
export function codeInRange(value: number, { near, far }: DataRange): number {
  const share = near === far ? Number(value >= near) : (value - near) / (far - near);
  return share > 0 ? Math.min(255, Math.floor(share * 255 + 0.5)) : 0;
}

const bits = new Uint32Array(1);
const asFloat = new Float32Array(bits.buffer);

/** The bits of a float32, which an ID is told by. */
export function idBits(id: number): number {
  asFloat[0] = id;
  return bits[0]!;
}

/**
 * A colour for an ID, the same one always: hue and lightness from its bits, mixed (the finaliser of MurmurHash3, A. Appleby, public domain)
 * since IDs that follow each other should not look alike. 0 is nothing: black.
 */
export function colourOfId(id: number): readonly [number, number, number] {
  let h = idBits(id);
  if ((h & 0x7fffffff) === 0) return [0, 0, 0];
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  h = (h ^ (h >>> 16)) >>> 0;
  const sixth = ((h & 0xffff) / 0x10000) * 6;
  const light = 90 + ((h >>> 16) & 127);
  const low = light * 0.35;
  const rising = low + (light - low) * (sixth % 1);
  const falling = low + (light - low) * (1 - (sixth % 1));
  const turns = [
    [light, rising, low],
    [falling, light, low],
    [low, light, rising],
    [low, falling, light],
    [rising, low, light],
    [light, low, falling],
  ];
  return turns[Math.floor(sixth)]!.map(Math.round) as unknown as readonly [number, number, number];
}
