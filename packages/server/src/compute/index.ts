// Computing on threads, without the web server and its database: commands that need no shot start without them.
export { ComputePool } from './pool.ts';
export { decodeShared } from './decode.ts';
export type { DecodedPart } from './decodedPart.ts';
export { PartCache } from './partCache.ts';
export { JobError } from '../job/jobFiles.ts';
export { runJob, type FrameReport, type OutputReport, type RunOptions } from '../job/runJob.ts';
export { verifyByJob } from '../job/verifyByJob.ts';
