// The codec module: how EXR chunks are packed and unpacked, in linear memory. AssemblyScript with SIMD, tested against the reference
// EXR library rather than by twins (see docs/exr.md). Chunk bytes are untrusted: every function checks what it reads and
// returns 0 when all is well, 1 when the bytes are damaged.
//
// Conventions: pointers are byte offsets; callers leave at least 32 readable bytes after every input and output.
export { restoreBytes, splitBytes, unpackRuns } from './bytes';
export { unpackHuffman } from './huffman';
export { inverseWavelet, applyTable } from './wavelet';
export { unpackPxr24Line } from './pxr24';
export { unpackBlocks44 } from './b44';
export { unpackDctBlocks } from './dct';
export { packRuns, markValues, forwardWavelet, countValues, buildCodes, packSymbols } from './packing';
export { packBlocks44 } from './packB44';
export { packDctBlocks } from './packDct';
