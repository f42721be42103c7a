import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { foundConfigSchema, libraryItemSchema, type LibraryChange } from '@june-haze/contract';
import { writeBundle } from '@june-haze/core';
import { z } from 'zod';
import { failure, request, send } from './request.ts';

export const libraryKey = ['library'] as const;

export const useLibrary = () =>
  useQuery({ queryKey: libraryKey, queryFn: () => request(z.array(libraryItemSchema), '/library') });

/** A dropped file and where it lay in the dropped folder. */
export interface DroppedFile {
  readonly path: string;
  readonly file: File;
}

/** Sends dropped files: those of a folder together as one archive, single files each by itself. Returns the new ids. */
async function bringIn(files: readonly DroppedFile[]): Promise<string[]> {
  const folders = new Map<string, DroppedFile[]>();
  for (const f of files) {
    const top = f.path.includes('/') ? f.path.slice(0, f.path.indexOf('/')) : '';
    folders.set(top, [...(folders.get(top) ?? []), f]);
  }
  const ids: string[] = [];
  for (const [top, inside] of folders) {
    if (top === '') for (const f of inside) ids.push(await upload(f.file.name, f.file));
    else {
      const bundle = new Map<string, Uint8Array>();
      for (const f of inside) bundle.set(f.path.slice(top.length + 1), new Uint8Array(await f.file.arrayBuffer()));
      ids.push(await upload(top, writeBundle(bundle) as Uint8Array<ArrayBuffer>));
    }
  }
  return ids;
}

async function upload(name: string, content: Blob | Uint8Array<ArrayBuffer>): Promise<string> {
  const response = await fetch(`/api/library?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: content,
  });
  if (!response.ok) throw await failure(response);
  return z.object({ id: z.string() }).parse(await response.json()).id;
}

/** Changes of the Library; errors are shown as their sentence. */
export function useLibraryChanges() {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const after = {
    onSuccess: () => queries.invalidateQueries({ queryKey: libraryKey }),
    onError: (error: Error) => void message.error(error.message, 8),
  };
  const add = useMutation({ mutationFn: bringIn, ...after });
  const change = useMutation({
    mutationFn: ({ id, body }: { id: string; body: LibraryChange }) =>
      request(libraryItemSchema, `/library/${id}`, 'PATCH', body),
    ...after,
  });
  const remove = useMutation({ mutationFn: (id: string) => send(`/library/${id}`, 'DELETE'), ...after });
  return { add, change, remove };
}

export const foundConfigsKey = ['library', 'found'] as const;

/** Configs that lie in the media folders and are not in the Library. */
export const useFoundConfigs = () =>
  useQuery({
    queryKey: foundConfigsKey,
    queryFn: () => request(z.array(foundConfigSchema), '/library/found'),
    select: (found) => found.filter((f) => f.kept === null),
    staleTime: 30_000,
  });

/** Brings a config of the media folders into the Library. */
export function useBringInFound() {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: (place: string) => request(z.object({ id: z.string() }), '/library/found', 'POST', { place }),
    onSuccess: () => queries.invalidateQueries({ queryKey: libraryKey }),
    onError: (error: Error) => void message.error(error.message, 8),
  });
}
