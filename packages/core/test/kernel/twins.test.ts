import { describe, expect, test } from '@jest/globals';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import { Heap } from '../../src/kernel/heap.ts';
import type { Kernels } from '../../src/kernel/kernels.ts';
import { kernelCases, awkwardFloats } from './cases.ts';

/** Bits with every NaN made the same: WebAssembly leaves a NaN's payload open. */
function bitsOf(kernels: Kernels, pointer: number, n: number): Uint32Array {
  const bits = new Uint32Array(kernels.memory.buffer.slice(pointer, pointer + n * 4));
  return bits.map((b) => ((b & 0x7fffffff) > 0x7f800000 ? 0x7fc00000 : b));
}

describe('every WebAssembly kernel equals its TypeScript twin to the bit', () => {
  for (const kernelCase of kernelCases) {
    test(kernelCase.name, () => {
      const results = [createWasmKernels(), createTwinKernels()].map((kernels) => {
        const heap = new Heap(kernels);
        const planes = [1, 2, 3, 4].map((seed) => {
          const values = awkwardFloats(seed, 4003);
          const at = heap.allocatePlane(values.length);
          heap.floats(at, values.length).set(values);
          return at;
        });
        const number = kernelCase.run(kernels, heap, planes, 4003);
        return { number, bits: planes.map((p) => bitsOf(kernels, p, 4003)) };
      });
      expect(results[0]!.number).toEqual(results[1]!.number);
      for (let p = 0; p < 4; p++) {
        const [wasm, twin] = [results[0]!.bits[p]!, results[1]!.bits[p]!];
        const at = wasm.findIndex((b, i) => b !== twin[i]);
        expect({ plane: p, at, wasm: wasm[at], twin: twin[at] }).toEqual({
          plane: p,
          at: -1,
          wasm: undefined,
          twin: undefined,
        });
      }
    });
  }

  test('all 65,536 halves widen alike and come back unchanged', () => {
    for (const kernels of [createWasmKernels(), createTwinKernels()]) {
      const heap = new Heap(kernels);
      const halves = heap.allocate(65536 * 2);
      const floats = heap.allocate(65536 * 4);
      const back = heap.allocate(65536 * 2);
      heap.halves(halves, 65536).forEach((_, i, all) => (all[i] = i));
      kernels.halfToFloat(halves, floats, 65536);
      kernels.floatToHalf(floats, back, 65536);
      const wrong = heap.halves(back, 65536).findIndex((h, i) => {
        const isNaN = (i & 0x7c00) === 0x7c00 && (i & 1023) !== 0;
        return isNaN ? (h & 0x7e00) !== 0x7e00 : h !== i;
      });
      expect(wrong).toBe(-1);
      // IEEE 754-2008 3.6: 0x3c00 is 1, 0x3555 about 1/3, 0x0001 the smallest subnormal 2^-24, 0x7bff is 65504.
      const at = (i: number) => heap.floats(floats, 65536)[i];
      expect([at(0x3c00), at(0x3555), at(1), at(0x7bff)]).toEqual([1, 0.333251953125, 2 ** -24, 65504]);
    }
  });
});

describe('float32 transcendentals against float64', () => {
  const kernels = createWasmKernels();
  const heap = new Heap(kernels);
  const n = 200000;
  const plane = heap.allocatePlane(n);

  test('exp2 has a relative error below 2e-7 over -126 … 128', () => {
    const x = Float32Array.from({ length: n }, (_, i) => -126 + (254 * i) / n);
    heap.floats(plane, n).set(x);
    kernels.exp2Plane(plane, n);
    const worst = Math.max(...largest(heap.floats(plane, n), (i) => Math.pow(2, x[i]!)));
    expect(worst).toBeLessThan(2e-7);
  });

  test('pow(x, 1/2.4) has a relative error below 7e-7 over 1e-6 … 1e5', () => {
    const x = Float32Array.from({ length: n }, (_, i) => 10 ** (-6 + (11 * i) / n));
    heap.floats(plane, n).set(x);
    const exponent = Math.fround(1 / 2.4);
    kernels.powPlane(plane, n, exponent);
    const worst = Math.max(...largest(heap.floats(plane, n), (i) => Math.pow(x[i]!, exponent)));
    expect(worst).toBeLessThan(7e-7);
  });

  function largest(got: Float32Array, want: (i: number) => number): number[] {
    let worst = 0;
    for (let i = 0; i < n; i++) worst = Math.max(worst, Math.abs(got[i]! / want(i) - 1));
    return [worst];
  }
});
