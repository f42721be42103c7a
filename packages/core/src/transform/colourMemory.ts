const places = 1 << 14;
type Colour = readonly [number, number, number];

/** Answers by colour: a table of fixed size in which a new colour takes the place of an old one. */
export class ColourMemory {
  /** Six numbers a place: the colour and its answer. NaN is no colour's own number. */
  private readonly held = new Float64Array(places * 6).fill(NaN);
  private readonly bits = new Uint32Array(3);
  private readonly floats = new Float32Array(this.bits.buffer);

  private placeOf(x: number, y: number, z: number): number {
    const { floats, bits } = this;
    floats[0] = x;
    floats[1] = y;
    floats[2] = z;
    // Odd multipliers that spread the bits (the first words of FIPS 180-4, 5.3.3, made odd).
    let h = Math.imul(bits[0]!, 0x6a09e667) ^ Math.imul(bits[1]!, 0xbb67ae85) ^ Math.imul(bits[2]!, 0x3c6ef373);
    h ^= h >>> 15;
    return ((h ^ (h >>> 7)) & (places - 1)) * 6;
  }

  /** Puts the answer to a colour into `into`; false when it is not known. */
  recall(x: number, y: number, z: number, into: [number, number, number]): boolean {
    const { held } = this;
    const at = this.placeOf(x, y, z);
    if (held[at] !== x || held[at + 1] !== y || held[at + 2] !== z) return false;
    into[0] = held[at + 3]!;
    into[1] = held[at + 4]!;
    into[2] = held[at + 5]!;
    return true;
  }

  keep(x: number, y: number, z: number, answer: Colour): void {
    const { held } = this;
    const at = this.placeOf(x, y, z);
    held[at] = x;
    held[at + 1] = y;
    held[at + 2] = z;
    held[at + 3] = answer[0];
    held[at + 4] = answer[1];
    held[at + 5] = answer[2];
  }
}
