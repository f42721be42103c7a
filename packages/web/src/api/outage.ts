import { skipToken, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

/** What is away. */
export type OutageState = 'none' | 'database' | 'server';
export const outageKey = ['outage'] as const;

/** What is away now, as the server's events say. */
export function useOutage(): OutageState {
  return useQuery<OutageState>({ queryKey: outageKey, queryFn: skipToken, initialData: 'none' }).data ?? 'none';
}

/** Calls whenever what was away is there again: what is no query asks once more by this. */
export function useReturn(returned: () => void): void {
  const outage = useOutage();
  const before = useRef(outage);
  useEffect(() => {
    if (before.current !== 'none' && outage === 'none') returned();
    before.current = outage;
  }, [outage, returned]);
}
