import { kernelModuleBase64 } from './module.generated.ts';
import type { Kernels } from './kernels.ts';
import { twinHalf } from './twin/half.ts';
import { twinTranscendental } from './twin/transcendental.ts';
import { twinArithmetic } from './twin/arithmetic.ts';
import { twinCurves } from './twin/curves.ts';
import { twinAces } from './twin/aces.ts';
import { twinAces2 } from './twin/aces2.ts';
import { twinTables } from './twin/tables.ts';
import { twinFilter } from './twin/filter.ts';
import { twinAperture } from './twin/aperture.ts';
import { twinDepth } from './twin/depth.ts';
import { twinNoise } from './twin/noise.ts';
import { twinMatte } from './twin/matte.ts';
import { twinReduce } from './twin/reduce.ts';

const pageBytes = 65536;

function decodeBase64(text: string): Uint8Array<ArrayBuffer> {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
  const values = new Uint8Array(128);
  for (let i = 0; i < 64; i++) values[alphabet.charCodeAt(i)] = i;
  const clean = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((clean.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (let i = 0; i < clean.length; i++) {
    bits = (bits << 6) | (values[clean.charCodeAt(i)] ?? 0);
    held += 6;
    if (held >= 8) {
      held -= 8;
      bytes[at++] = (bits >> held) & 255;
    }
  }
  return bytes;
}

/** Compiles a module from the text that the build put beside this file; each call has a memory of its own. */
export function compileModule(base64: string): Record<string, unknown> {
  return new WebAssembly.Instance(new WebAssembly.Module(decodeBase64(base64)), {}).exports;
}

/** The WebAssembly kernels. One memory per call. */
export function createWasmKernels(): Kernels {
  return compileModule(kernelModuleBase64) as unknown as Kernels;
}

/** The plain-TypeScript twins: the tested reference, and the fallback where WebAssembly SIMD is missing. */
export function createTwinKernels(): Kernels {
  const memory = {
    buffer: new ArrayBuffer(pageBytes),
    grow(pages: number): number {
      const before = memory.buffer.byteLength / pageBytes;
      const larger = new ArrayBuffer((before + pages) * pageBytes);
      new Uint8Array(larger).set(new Uint8Array(memory.buffer));
      memory.buffer = larger;
      return before;
    },
  };
  const heap = () => memory.buffer;
  return {
    memory,
    ...twinHalf(heap),
    ...twinTranscendental(heap),
    ...twinArithmetic(heap),
    ...twinCurves(heap),
    ...twinTables(heap),
    ...twinAces(heap),
    ...twinAces2(heap),
    ...twinFilter(heap),
    ...twinAperture(heap),
    ...twinDepth(heap),
    ...twinNoise(heap),
    ...twinMatte(heap),
    ...twinReduce(heap),
  };
}

let shared: Kernels | undefined;

/** The kernels of this thread: WebAssembly where it runs, the twins otherwise. */
export function kernels(): Kernels {
  if (!shared) {
    try {
      shared = createWasmKernels();
    } catch {
      shared = createTwinKernels();
    }
  }
  return shared;
}
