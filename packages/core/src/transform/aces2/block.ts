import { lightnessExponent } from './appearance.ts';
import type { Rendering } from './parameters.ts';

/** Where the tables lie in a block, in floats. */
export const reachOffset = 64;
export const rowsOffset = 428;

/**
 * A rendering as the parameter block of the `aces2Forward` kernel, floats: four matrices of nine (scene light to cones, cone responses to
 * opponents, and the display's two back), eighteen numbers, from 64 on the reach by degree (363), from 428 on the gamut's 363 rows of hue,
 * lightness, colourfulness and upper power.
 */
export function renderingBlock(r: Rendering): Float32Array {
  const { tone, gamut } = r;
  const entries = gamut.hue.length;
  const block = new Float32Array(rowsOffset + entries * 4);
  block.set(r.scene.toCones, 0);
  block.set(r.scene.toOpponent, 9);
  block.set(r.display.fromOpponent, 18);
  block.set(r.display.fromCones, 27);
  block.set(
    [
      r.scene.whiteResponse,
      r.scene.lightAdaptation,
      tone.m2,
      tone.s2,
      tone.contrast,
      tone.toe,
      r.limit,
      r.middle,
      r.limit * r.focusDistance,
      r.lowerHull,
      r.saturation,
      r.saturationThreshold,
      r.compression,
      r.chromaScale,
      lightnessExponent,
      1 / lightnessExponent,
      gamut.searchFrom,
      gamut.searchTo,
    ],
    36,
  );
  block.set(r.reach, reachOffset);
  for (let i = 0; i < entries; i++)
    block.set([gamut.hue[i]!, gamut.lightness[i]!, gamut.colourfulness[i]!, gamut.upperPower[i]!], rowsOffset + i * 4);
  return block;
}
