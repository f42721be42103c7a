/**
 * Chromaticity x, y of a black body, moved off its locus: M. Krystek, "An algorithm to calculate correlated colour temperature", Color Res.
 * Appl. 10 (1985), 38-40, good to 9e-4 in u and v from 1000 to 15000 K. `tint` is the distance from the locus in CIE 1960 u, v (Duv of
 * ANSI C78.377): above 0 greener, below pinker.
 */
export function whiteOfLight(kelvin: number, tint: number): readonly [x: number, y: number] {
  const at = ([u, v]: readonly [number, number]): readonly [number, number] => {
    const d = 2 * u - 8 * v + 4;
    return [(3 * u) / d, (2 * v) / d];
  };
  const here = locus(kelvin);
  if (tint === 0) return at(here);
  // The locus' direction towards higher temperatures; greener lies to the left of where it comes from.
  const [before, after] = [locus(kelvin - 1), locus(kelvin + 1)];
  const [du, dv] = [after[0] - before[0], after[1] - before[1]];
  const length = Math.sqrt(du * du + dv * dv);
  const across = [-dv / length, du / length] as const;
  const greener = across[1] > 0 ? 1 : -1;
  return at([here[0] + across[0] * greener * tint, here[1] + across[1] * greener * tint]);
}

function locus(t: number): readonly [u: number, v: number] {
  const u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t);
  const v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t);
  return [u, v];
}
