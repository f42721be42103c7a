import { useQuery } from '@tanstack/react-query';
import { balanceSchema, type Shot } from '@june-haze/contract';
import { request } from '../../api/request.ts';
import { useRested } from '../../viewer/playing/useRested.ts';

/** How long a frame and a revision stand before the server is asked for their proof. */
const restMilliseconds = 600;

/**
 * The stored proof of a frame: asked for when there is none for the ledger in force and the files as they are. Each frame has its own, so
 * that two pages at different frames do not undo each other's.
 */
export function useBalance(shot: Shot, frame: number, playing: boolean) {
  const { id, ledger, sources, balances } = shot;
  const { document, revision } = ledger;
  const stored = balances.find((b) => b.frame === frame);
  const files = sources.map((s) => s.stamp).join();
  const asked = `${frame} ${revision} ${files}`;
  const rested = useRested(asked, restMilliseconds, playing);
  const wanted = document.balanceAgainst !== undefined && document.entries.length > 0 && stored === undefined;
  const { error } = useQuery({
    queryKey: ['balance', id, frame, revision, files],
    enabled: wanted && !playing && rested === asked,
    queryFn: () => request(balanceSchema, `/shots/${id}/balance`, 'POST', { frame }),
    // A proof that is kept comes with the shot; one that fell away is asked for again.
    staleTime: 0,
    gcTime: 0,
    retry: false,
    refetchOnWindowFocus: false,
  });
  return { stored, failure: wanted && error ? error.message : undefined };
}
