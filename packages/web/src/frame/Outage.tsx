import { useOutage, type OutageState } from '../api/outage.ts';

const sentences: Record<Exclude<OutageState, 'none'>, string> = {
  database:
    'The database does not answer. It is asked again every second; runs go on when it is there, and nothing that was kept is lost.',
  server: 'The server does not answer. The page goes on by itself when it is there again.',
};

/** Says while the server or its database is away; goes by itself. */
export function Outage() {
  const outage = useOutage();
  if (outage === 'none') return null;
  return (
    <div className="outage" role="alert">
      {sentences[outage]}
    </div>
  );
}
