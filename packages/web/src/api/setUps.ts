import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { setUpSchema, type SetUp } from '@june-haze/contract';
import { z } from 'zod';
import { request } from './request.ts';

export const setUpsKey = ['set-ups'] as const;
const all = z.array(setUpSchema);

export const useSetUps = () => useQuery({ queryKey: setUpsKey, queryFn: () => request(all, '/set-ups') });

/** Keeps a shot's colours and rate under a name, or removes a set-up; each answer is all that there are then. */
export function useSetUpChanges() {
  const queries = useQueryClient();
  const onSuccess = (now: SetUp[]) => queries.setQueryData(setUpsKey, now);
  const keep = useMutation({
    mutationFn: (body: { name: string; shotId: string }) => request(all, '/set-ups', 'POST', body),
    onSuccess,
  });
  const remove = useMutation({ mutationFn: (id: string) => request(all, `/set-ups/${id}`, 'DELETE'), onSuccess });
  return { keep, remove };
}
