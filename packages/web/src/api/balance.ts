import { useQuery } from '@tanstack/react-query';
import { balanceFaultsSchema, startingPointsSchema, type Shot } from '@june-haze/contract';
import { request } from './request.ts';

const filesOf = (shot: Shot) => shot.sources.map((s) => s.stamp).join();

/** The ways that a shot's ledger can begin, each tried on a frame. */
export const useStartingPoints = (shot: Shot, frame: number, enabled: boolean) =>
  useQuery({
    queryKey: ['starts', shot.id, frame, filesOf(shot), shot.colour, shot.viewing],
    enabled,
    queryFn: () => request(startingPointsSchema, `/shots/${shot.id}/starts?frame=${frame}`),
    retry: false,
    staleTime: Infinity,
  });

/** What keeps a shot's passes from their beauty at a frame, for the revision in force. */
export const useBalanceFaults = (shot: Shot, frame: number, enabled: boolean) =>
  useQuery({
    queryKey: ['balance faults', shot.id, frame, shot.ledger.revision, filesOf(shot)],
    enabled,
    queryFn: () => request(balanceFaultsSchema, `/shots/${shot.id}/balance/faults?frame=${frame}`),
    retry: false,
    staleTime: Infinity,
  });
