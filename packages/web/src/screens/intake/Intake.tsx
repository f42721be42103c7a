import { Button, Switch } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useChangesOnDisk } from '../../api/shots.ts';
import { useThisShot } from '../../frame/ShotFrame.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { beautyOf } from '../../viewer/sights.ts';
import { BringIn } from './BringIn.tsx';
import { DeclareMarked } from './DeclareMarked.tsx';
import { LookAtSource } from './LookAtSource.tsx';
import { Problems } from './Problems.tsx';
import { problemRows } from './problems.ts';
import { ReadingForm } from './ReadingForm.tsx';
import { SourceRow } from './SourceRow.tsx';
import { useDropIn } from './useDropIn.ts';
import { UploadBar } from '../../uploads/UploadBar.tsx';

/** What was brought in, what is in it, and which space each source's numbers are in. */
export function Intake() {
  const shot = useThisShot();
  // Until a person folds or unfolds a row, the newest source stands open when it is the only one.
  const [folded, setFolded] = useState<string | null>();
  const only = shot.sources.length === 1 ? shot.sources[0]!.id : undefined;
  const chosen = folded === undefined ? only : folded;
  const [look, setLook] = useSearchParams();
  const lookedAt = shot.sources.find((s) => s.id === look.get('look'));
  const [browsing, setBrowsing] = useState(false);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const lookForChanges = useChangesOnDisk(shot.id);
  useEffect(() => lookForChanges(), [lookForChanges]);
  const { over, handlers, take } = useDropIn(shot);
  const picker = useRef<HTMLInputElement>(null);
  const many = shot.sources.filter((s) => marked.has(s.id));
  const mark = (id: string) => {
    const next = new Set(marked);
    if (!next.delete(id)) next.add(id);
    setMarked(next);
  };
  if (lookedAt)
    return (
      <LookAtSource
        key={lookedAt.id}
        shot={shot}
        source={lookedAt}
        pass={look.get('pass') ?? beautyOf(lookedAt)}
        onClose={() => setLook({})}
      />
    );
  return (
    <main
      className={`screen${over ? ' drop-over' : ''}`}
      style={{ gridTemplateColumns: 'minmax(0, 1fr) 300px' }}
      {...handlers}
    >
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
          <Button size="small" onClick={() => picker.current?.click()}>
            Choose files
          </Button>
          <input
            ref={picker}
            type="file"
            multiple
            hidden
            aria-label="Files to bring in"
            onChange={(e) => {
              take([...(e.target.files ?? [])].map((file) => ({ path: file.name, file })));
              e.target.value = '';
            }}
          />
          <Button size="small" type="primary" onClick={() => setBrowsing(true)}>
            Bring in
          </Button>
        </div>
        <UploadBar />
        {many.length > 0 && (
          <div className="bar marked">
            <span>
              <span className="number">{many.length}</span> marked, read as
            </span>
            <DeclareMarked shot={shot} sources={many} />
            <ReadingForm shot={shot} sources={many} />
            <span className="grow" />
            <Button size="small" onClick={() => setMarked(new Set())}>
              Unmark
            </Button>
          </div>
        )}
        <div className="table-head">
          <span />
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
              marked={marked.has(source.id)}
              onChoose={() => setFolded(source.id === chosen ? null : source.id)}
              onMark={() => mark(source.id)}
              onLook={(pass) => setLook({ look: source.id, pass })}
            />
          ))}
          {shot.sources.length === 0 && (
            <div className="empty">
              Nothing is in this shot yet.
              <br />
              Drop files or folders here, or bring sequences, stills and movies in from the media folders; the demo's
              frames lie in <span className="number">media/landing</span>.
              <br />
              <Button style={{ marginTop: 14 }} onClick={() => setBrowsing(true)}>
                Browse media folders
              </Button>
            </div>
          )}
        </div>
      </section>
      <ProblemColumn />
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

function ProblemColumn() {
  const shot = useThisShot();
  const [all, setAll] = useState(false);
  const rows = problemRows(shot);
  const open = rows.filter((r) => !r.silenced);
  const silenced = rows.length - open.length;
  const checking = shot.sources.some((s) => s.check.stage !== 'done' && s.check.stage !== 'failed');
  return (
    <section className="column" aria-label="Problems">
      <div className="bar">
        <span className="strong">Problems</span>
        <span className="quiet">
          <span className="number">{open.length}</span> open
          {silenced > 0 && (
            <>
              , <span className="number">{silenced}</span> silenced
            </>
          )}
        </span>
        <span className="grow" />
        {silenced > 0 && <Switch size="small" aria-label="Show silenced" checked={all} onChange={setAll} />}
      </div>
      <div className="scroll">
        {open.length === 0 && (
          <div className="problem">
            <ProofMark state={shot.sources.length && !checking ? 'proved' : 'unproved'} />
            <span className="quiet">
              {!shot.sources.length
                ? 'Nothing to check yet.'
                : checking
                  ? 'The files are being looked at.'
                  : 'Every frame’s header and some frames’ pixels were looked at; nothing stands out.'}
            </span>
          </div>
        )}
        <Problems rows={all ? rows : open} />
      </div>
    </section>
  );
}
