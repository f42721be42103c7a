/** What a thread that stands back wherever others have something to do finds in its environment. */
export const yieldingThread = 'JUNE_YIELDING_THREAD';
