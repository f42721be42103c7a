import { hashFile } from './hashFile.ts';
import { useSyncExternalStore } from 'react';
import { UploadQueue, type UploadState } from './uploadQueue.ts';

/** One queue for the page: a drop goes on while screens change. */
export const uploadQueue = new UploadQueue(hashFile);

export const useUploadState = (): UploadState => useSyncExternalStore(uploadQueue.subscribe, uploadQueue.read);
