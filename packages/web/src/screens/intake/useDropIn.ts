import { App } from 'antd';
import { mediaFolderSchema, type Shot } from '@june-haze/contract';
import { useState, type DragEvent } from 'react';
import { droppedFiles } from '../../api/dropped.ts';
import type { DroppedFile } from '../../api/library.ts';
import { request } from '../../api/request.ts';
import { useShotChange } from '../../api/shots.ts';
import { batchName, withinBatch } from '../../uploads/uploadQueue.ts';
import { uploadQueue } from '../../uploads/useUploads.ts';

/** Takes files and folders that are dropped on the screen, and brings into the shot what is in them. */
export function useDropIn(shot: Shot) {
  const [over, setOver] = useState(false);
  const change = useShotChange();
  const { message } = App.useApp();
  const take = async (files: readonly DroppedFile[]) => {
    if (!files.length) return;
    if (uploadQueue.read().stage === 'sending') {
      void message.info('Files are being taken in already; drop these when that is done.');
      return;
    }
    const batch = batchName(files, shot.name);
    const sent = await uploadQueue.send(shot.id, batch, withinBatch(files, batch));
    if (sent === undefined) return;
    const { folder, replaced } = sent;
    if (replaced)
      void message.success(
        `${replaced} ${replaced === 1 ? 'file' : 'files'} of this shot replaced by what was dropped.`,
        6,
      );
    const inShot = new Set(shot.sources.map((s) => `${s.folder}/${s.pattern}`));
    const { sequences } = await request(mediaFolderSchema, `/media?folder=${encodeURIComponent(folder)}`);
    const patterns = sequences
      .filter((s) => !s.outdated && !inShot.has(`${folder}/${s.pattern}`))
      .map((s) => s.pattern);
    if (patterns.length)
      change.mutate({ path: `/shots/${shot.id}/sources`, method: 'POST', body: { folder, patterns } });
    else if (!replaced) void message.info('There is nothing in these files that is not in the shot already.');
  };
  const say = (error: unknown) => void message.error((error as Error).message, 6);
  return {
    over,
    take: (files: readonly DroppedFile[]) => void take(files).catch(say),
    handlers: {
      onDragOver: (event: DragEvent) => {
        event.preventDefault();
        setOver(true);
      },
      onDragLeave: (event: DragEvent) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      },
      onDrop: (event: DragEvent) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event.dataTransfer).then(take).catch(say);
      },
    },
  };
}
