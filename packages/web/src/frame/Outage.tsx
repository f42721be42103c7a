import { useQuery } from '@tanstack/react-query';
import { outageKey, type OutageState } from '../api/ServerEvents.tsx';

const sentences: Record<Exclude<OutageState, 'none'>, string> = {
  database:
    'The database does not answer. It is asked again every second; runs go on when it is there, and nothing that was kept is lost.',
  server: 'The server does not answer. The page goes on by itself when it is there again.',
};

/** Says while the server or its database is away; goes by itself. */
export function Outage() {
  const { data } = useQuery<OutageState>({ queryKey: outageKey, initialData: 'none', enabled: false });
  if (data === 'none') return null;
  return (
    <div className="outage" role="alert">
      {sentences[data]}
    </div>
  );
}
