import { Button } from 'antd';
import type { Shot, StartingPoint } from '@june-haze/contract';
import { useStartingPoints } from '../../api/balance.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';

interface Props {
  shot: Shot;
  frame: number;
  onBegin: (start: StartingPoint) => void;
}

/** How an empty ledger can begin: each way tried on the frame, with its picture and how it balances. */
export function StartPoints({ shot, frame, onBegin }: Props) {
  const { data, error } = useStartingPoints(shot, frame, shot.sources.length > 0);
  if (!shot.sources.length) return <div className="empty">Bring a source in first: Intake.</div>;
  if (error) return <div className="empty">The ways to begin could not be tried: {error.message}</div>;
  if (!data) return <div className="empty">Trying the ways to begin on this frame…</div>;
  if (!data.length)
    return (
      <div className="empty">No render is among the sources: add an entry by hand, or correct roles in Intake.</div>
    );
  return (
    <section aria-label="Ways to begin" className="starts">
      <p className="quiet small">The ledger is empty; the picture is the beauty. Each way was tried on this frame.</p>
      {data.map((start) => (
        <article
          key={`${start.title} ${start.of}`}
          className="start"
          aria-label={[start.title, start.of].filter(Boolean).join(' of ')}
        >
          {start.picture ? <img src={start.picture} alt="" draggable={false} /> : <span className="no-picture" />}
          <div style={{ minWidth: 0 }}>
            <div className="beside">
              {start.figures && <ProofMark state={start.figures.balanced ? 'proved' : 'differs'} />}
              <span className="strong">{start.title}</span>
            </div>
            {start.of && <div className="quiet small clip">{start.of}</div>}
            <p className="small">{start.words}</p>
            <Button size="small" onClick={() => onBegin(start)}>
              Begin with this
            </Button>
          </div>
        </article>
      ))}
    </section>
  );
}
