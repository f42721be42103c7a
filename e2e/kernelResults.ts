import { createTwinKernels, createWasmKernels, Heap } from '@june-haze/core';
import { awkwardFloats, kernelCases } from '../packages/core/test/kernel/cases.ts';

/** The bits that every kernel case leaves in its planes, WebAssembly and twin, NaNs made alike. Runs in Node and in a page. */
export function kernelResults(): Record<string, number[]> {
  const results: Record<string, number[]> = {};
  for (const [kind, make] of [
    ['wasm', createWasmKernels],
    ['twin', createTwinKernels],
  ] as const) {
    for (const kernelCase of kernelCases) {
      const kernels = make();
      const heap = new Heap(kernels);
      const n = 1003;
      const planes = [1, 2, 3, 4].map((seed) => {
        const at = heap.allocatePlane(n);
        heap.floats(at, n).set(awkwardFloats(seed, n));
        return at;
      });
      kernelCase.run(kernels, heap, planes, n);
      const bits = planes.flatMap((p) => [...new Uint32Array(kernels.memory.buffer.slice(p, p + n * 4))]);
      results[`${kind} ${kernelCase.name}`] = bits.map((b) => ((b & 0x7fffffff) > 0x7f800000 ? 0x7fc00000 : b));
    }
  }
  return results;
}
