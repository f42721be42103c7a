import {
  ColourConfig,
  createTwinKernels,
  createWasmKernels,
  parseConfig,
  runSteps,
  type ColourStep,
  type Direction,
} from '@june-haze/core';
import { landingConfig, landingFiles } from '../packages/core/test/config/configs.ts';

const count = 900;

/** Colours of many sizes and both signs, without infinities. */
function colours(seed: number): Float32Array {
  let state = seed * 2654435761;
  return Float32Array.from({ length: count }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const sign = state % 11 === 0 ? -1 : 1;
    return sign * (state / 4294967296) ** 4 * 40;
  });
}

/** The bits of what a config makes of colours, by way and kernels. Runs in Node and in a page. */
export function configResults(): Record<string, number[]> {
  const encode = new TextEncoder();
  const read = (path: string) => (path in landingFiles ? encode.encode(landingFiles[path]) : undefined);
  const config = new ColourConfig(parseConfig(landingConfig, 'config.ocio'), { read });
  const seen = (display: string, view: string, looks?: string, direction: Direction = 'forward') =>
    config.view('ACEScg', { display, view, looks }, direction);
  const ways: Record<string, ColourStep[]> = {
    'to log': config.conversion('ACEScg', 'ACEScct'),
    cube: config.conversion('ACEScg', 'baked film'),
    'cube undone': config.conversion('baked film', 'ACEScg'),
    'by look': config.conversion('by look', 'ACEScg'),
    'ACES view': seen('sRGB screen', 'ACES'),
    'ACES view undone': seen('sRGB screen', 'ACES', undefined, 'inverse'),
    'film and looks': seen('sRGB screen', 'film', '+dusk, -warm'),
    'film and looks undone': seen('sRGB screen', 'film dusk', undefined, 'inverse'),
    monitor: seen('Rec.709 monitor', 'Shared Film'),
    named: config.named('bend', 'inverse'),
  };
  const planes = [colours(1), colours(2), colours(3)] as const;
  const results: Record<string, number[]> = {};
  for (const [kind, make] of [
    ['wasm', createWasmKernels],
    ['twin', createTwinKernels],
  ] as const) {
    for (const [name, steps] of Object.entries(ways)) {
      const out = runSteps(steps, planes, make());
      results[`${kind} ${name}`] = out.flatMap((p) => {
        // The bits of NaN are no engine's promise; that it is one is kept.
        const settled = p.map((x) => (x !== x ? 1e30 : x));
        return [...new Uint32Array(settled.buffer, 0, count)];
      });
    }
  }
  return results;
}
