import type { ColourStep } from '../colour/steps.ts';

/**
 * The log curve that the linear style of curves and tone puts around itself: stops about 18 % grey, straight near black
 * (open config format; constants as the reference library's shaders print them).
 */
const shift = -0.000157849851665374;
const m = 1 / (0.18 + shift);
const curve = { cut: 0.0041318374739483946, a: 1, b: m, c: shift * m, d: 0, e: 363.034608563, f: -7 };

export const toStops: ColourStep = { kind: 'encodeLog', curve };
export const fromStops: ColourStep = { kind: 'decodeLog', curve };
