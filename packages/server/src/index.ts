export { openEngine, settingsFromEnvironment, type Engine, type Settings } from './open.ts';
export { RequestError } from './errors.ts';
export { preCheck } from './shots/outputs.ts';
export { ComputePool } from './compute/pool.ts';
export { decodeShared } from './compute/decode.ts';
export { PartCache } from './compute/partCache.ts';
export { exrFile } from './intake/frameFiles.ts';
