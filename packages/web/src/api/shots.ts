import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import {
  demoStateSchema,
  mediaFolderSchema,
  preCheckSchema,
  shotSchema,
  shotSummarySchema,
  type Shot,
} from '@june-haze/contract';
import { useCallback } from 'react';
import { z } from 'zod';
import { ApiProblem, request } from './request.ts';

export const shelfKey = ['shelf'] as const;
export const shotKey = (id: string) => ['shot', id] as const;
export const demoKey = ['demo'] as const;

export const useShelf = () =>
  useQuery({ queryKey: shelfKey, queryFn: () => request(z.array(shotSummarySchema), '/shots') });

/** Of two answers about a shot the newer, in whatever order they came: what a person sees never goes back. */
export const newerShot = (held: Shot | undefined, came: Shot): Shot =>
  held && held.snapshot > came.snapshot ? held : came;

export const keepShot = (queries: QueryClient, shot: Shot) =>
  queries.setQueryData<Shot>(shotKey(shot.id), (held) => newerShot(held, shot));

export function useShot(id: string) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: shotKey(id),
    queryFn: async () => {
      const came = await request(shotSchema, `/shots/${id}`);
      return newerShot(queries.getQueryData<Shot>(shotKey(id)), came);
    },
  });
}
export const useDemo = () => useQuery({ queryKey: demoKey, queryFn: () => request(demoStateSchema, '/demo') });
export const useMediaFolder = (folder: string, enabled = true) =>
  useQuery({
    queryKey: ['media', folder],
    enabled,
    queryFn: () => request(mediaFolderSchema, `/media?folder=${encodeURIComponent(folder)}`),
    staleTime: 0,
  });
export const usePreCheck = (outputId: string, shot: Shot) =>
  useQuery({
    queryKey: ['precheck', outputId, shot.updatedAt, shot.runs[0]?.state, shot.outputs],
    queryFn: () => request(preCheckSchema, `/outputs/${outputId}/precheck`),
  });

export interface ShotRequest {
  path: string;
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  body?: unknown;
}

/** A change whose answer is the shot as it then stands. Errors are shown as their sentence; a stale ledger is loaded again. */
export function useShotChange() {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: ({ path, method, body }: ShotRequest) => request(shotSchema, path, method, body),
    onSuccess: (shot) => {
      keepShot(queries, shot);
      void queries.invalidateQueries({ queryKey: shelfKey });
      shot.notices.forEach((n) => void message.warning(n, 6));
    },
    onError: (error) => {
      void message.error(error.message, 6);
      if (error instanceof ApiProblem && error.status === 409) void queries.invalidateQueries({ queryKey: ['shot'] });
    },
  });
}

/** Asks whether a shot's files changed on disk since they were looked at. */
export function useChangesOnDisk(shotId: string): () => void {
  const queries = useQueryClient();
  return useCallback(() => {
    // What cannot be asked now is asked when the screen is opened again.
    request(shotSchema, `/shots/${shotId}/changes`, 'POST').then(
      (shot) => keepShot(queries, shot),
      () => undefined,
    );
  }, [queries, shotId]);
}
