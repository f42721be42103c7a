// The kernel module: hot loops over planes in linear memory. AssemblyScript with SIMD (no relaxed SIMD),
// so that every engine gives the same bits. Each function has a plain-TypeScript twin in src/kernel/twin/.
//
// Conventions: pointers are byte offsets, 16-byte aligned; n counts samples; loops run in steps of four and may
// touch the padding after n (the heap pads every allocation to 16 bytes), never more.
export { halfToFloat, floatToHalf } from './half';
export { exp2Plane, log2Plane, powPlane, powKeepPlane, powMirrorPlane } from './transcendental';
export { matrix3, scale3 } from './matrix';
export { addScaled, multiplyMixed, coverPremultiplied, fillPlane, multiplyPlanes, dividePlanes, restorePlanes } from './blend';
export { divideOrZero, fillUncovered, screenPlanes, maxPlanes, minPlanes, copyPlane, mixByMatte, mixTowards } from './blend';
export { filterRow, filterColumn, keepFinite } from './filter';
export { coveredOr, layerPlaces, layerShares, layersOfRow, layUnder, rowSums, spreadRow } from './aperture';
export { calmBytes, exponentsOfDepth, findSides, joinBytes, listZeros, lostOfLeft, surfaceDepths } from './depth';
export { addNoise, noiseRow } from './noise';
export { boxDistance, falloffPlane, planeDistance, rampPlane, rangePlane, sphereDistance } from './matte';
export { encodeCurve, decodeCurve, clampPlane, offsetPlane, encodeLog, decodeLog, encodePq, decodePq } from './curves';
export { acesGlowAndRed, toneSpline, surround } from './aces';
export { aces2Forward } from './aces2';
export { averageSquares, luminanceSum, packCodes } from './reduce';
export { curveTable, anyAbove, tablePlane, cubeTetrahedral, cubeTrilinear } from './tables';
