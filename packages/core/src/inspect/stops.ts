/** Middle grey of a scene: 18 % reflectance. Stops are counted from it. */
export const middleGrey = 0.18;

/** A band of false colour: luminance within half a stop of `stops` from middle grey; the ends take all that lies beyond. */
export interface StopBand {
  readonly stops: number;
  readonly colour: readonly [number, number, number];
}

/** Ours: the lightness rises with the stops, so that order is seen without hue; cool below grey, grey itself neutral, warm above. */
const colours = [
  [7, 7, 7],
  [24, 16, 63],
  [19, 36, 81],
  [0, 57, 95],
  [0, 78, 103],
  [0, 98, 107],
  [57, 113, 106],
  [118, 118, 118],
  [147, 137, 59],
  [176, 150, 74],
  [205, 162, 94],
  [233, 175, 118],
  [255, 189, 146],
  [255, 216, 201],
  [250, 250, 250],
] as const;

const lowest = -(colours.length - 1) / 2;

export const stopBands: readonly StopBand[] = colours.map((colour, i) => ({ stops: lowest + i, colour }));

/** Where each band but the first begins: 0.18 · 2^(stops − ½), in float32 as the pixels are. */
const begins = stopBands.slice(1).map(({ stops }) => Math.fround(middleGrey * 2 ** (stops - 0.5)));

/** Which band a scene-linear luminance falls in; 0 and below, and what is no number, fall in the first. */
export function stopBandOf(luminance: number): number {
  let band = 0;
  while (band < begins.length && luminance >= begins[band]!) band++;
  return band;
}

/** Stops from middle grey of a scene-linear luminance; −Infinity at 0 and below. */
export const stopsOf = (luminance: number): number => (luminance > 0 ? Math.log2(luminance / middleGrey) : -Infinity);
