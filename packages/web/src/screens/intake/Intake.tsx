import { Button } from 'antd';
import { useState } from 'react';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { useThisShot } from '../../frame/ShotFrame.tsx';
import { BringIn } from './BringIn.tsx';
import { Problems, problemsOf } from './Problems.tsx';
import { SourceRow } from './SourceRow.tsx';

/** What was brought in, what is in it, and which space each source's numbers are in. */
export function Intake() {
  const shot = useThisShot();
  // Until a person folds or unfolds a row, the newest source stands open.
  const [folded, setFolded] = useState<string | null>();
  const chosen = folded === undefined ? shot.sources.at(-1)?.id : folded;
  const [browsing, setBrowsing] = useState(false);
  const problems = problemsOf(shot);
  return (
    <main className="screen" style={{ gridTemplateColumns: 'minmax(0, 1fr) 300px' }}>
      <section className="column" aria-label="Sources">
        <div className="bar">
          <span className="strong">Sources</span>
          {shot.sources.length > 0 && (
            <span className="quiet">
              shot runs{' '}
              <span className="number">
                {shot.firstFrame}–{shot.lastFrame}
              </span>{' '}
              at <span className="number">{shot.rate}</span> fps,{' '}
              <span className="number">
                {shot.width}×{shot.height}
              </span>
            </span>
          )}
          <span className="grow" />
          <Button size="small" type="primary" onClick={() => setBrowsing(true)}>
            Bring in
          </Button>
        </div>
        <div className="table-head">
          <span />
          <span>source</span>
          <span>frames</span>
          <span>size</span>
          <span>rate</span>
          <span>stored as</span>
          <span>declared space</span>
        </div>
        <div className="scroll" style={{ background: 'var(--raised)' }}>
          {shot.sources.map((source) => (
            <SourceRow
              key={source.id}
              shot={shot}
              source={source}
              chosen={source.id === chosen}
              onChoose={() => setFolded(source.id === chosen ? null : source.id)}
            />
          ))}
          {shot.sources.length === 0 && (
            <div className="empty">
              Nothing is in this shot yet.
              <br />
              Bring a sequence in from the media folders; the demo's frames lie in{' '}
              <span className="number">media/landing</span>.
              <br />
              <Button style={{ marginTop: 14 }} onClick={() => setBrowsing(true)}>
                Browse media folders
              </Button>
            </div>
          )}
        </div>
      </section>
      <section className="column" aria-label="Problems">
        <div className="bar">
          <span className="strong">Problems</span>
          <span className="quiet">
            <span className="number">{problems.length}</span> open
          </span>
        </div>
        <div className="scroll">
          {problems.length === 0 && (
            <div className="problem">
              <ProofMark state={shot.sources.length ? 'proved' : 'unproved'} />
              <span className="quiet">
                {shot.sources.length ? 'Every frame’s header was read; nothing stands out.' : 'Nothing to check yet.'}
              </span>
            </div>
          )}
          <Problems problems={problems} />
        </div>
      </section>
      <BringIn
        shot={shot}
        open={browsing}
        onClose={() => setBrowsing(false)}
        onBrought={() => {
          setBrowsing(false);
          setFolded(undefined);
        }}
      />
    </main>
  );
}
