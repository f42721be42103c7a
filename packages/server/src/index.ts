export { openEngine, settingsFromEnvironment, type Engine, type Settings } from './open.ts';
export { inspect } from './compute/inspect.ts';
export { RequestError } from './errors.ts';
export { preCheck } from './shots/outputs.ts';
export { ComputePool } from './compute/pool.ts';
export { decodeShared } from './compute/decode.ts';
export { PartCache } from './compute/partCache.ts';
