import { useQuery } from '@tanstack/react-query';
import { machineSchema } from '@june-haze/contract';
import { request } from '../api/request.ts';
import { pageMemory } from '../viewer/engine/pageMemory.ts';

const megabytes = (bytes: number) => `${Math.round(bytes / 2 ** 20)} MB`;
const of = (bytes: number, most: number) => `${Math.round(bytes / 2 ** 20)} of ${megabytes(most)}`;

/** What the page and the server hold now, and may. */
export function MachineLine() {
  const { data } = useQuery({
    queryKey: ['machine'],
    queryFn: () => request(machineSchema, '/machine'),
    staleTime: 0,
    refetchInterval: 2000,
  });
  const page = pageMemory();
  return (
    <div className="machine small quiet" role="status" aria-label="About this machine">
      <span className="strong">About this machine</span>
      {page && (
        <div>
          page: passes {of(page.planes, page.planesMost)}, pictures {of(page.drawn, page.drawnMost)}, kept by workers{' '}
          {of(page.workers, page.workersMost)}
        </div>
      )}
      {data && (
        <div>
          server: frames {of(data.frames, data.framesMost)}, process {megabytes(data.process)}, {data.threads} threads
        </div>
      )}
    </div>
  );
}
