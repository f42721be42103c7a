import { Progress } from 'antd';
import { isOneFile, type Output, type Run } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';

/** How a run stands, in a word. */
function stateWords({ state, frames }: Run, { kind }: Output): string {
  const left = frames.some((f) => f.state !== 'done');
  if (state === 'running') return isOneFile({ kind }) && !left ? `putting the ${kind} together` : 'writing';
  return { paused: 'paused', done: 'written', failed: 'written in part', cancelled: 'stopped' }[state];
}

/** How many frames each process has or had in hand, where more than one does the work. */
function WhoDidWhat({ run }: { run: Run }) {
  const counts = new Map<string, number>();
  for (const { by } of run.frames) if (by) counts.set(by, (counts.get(by) ?? 0) + 1);
  if (counts.size < 2) return null;
  return (
    <div className="quiet">
      {[...counts].map(([by, n], i) => (
        <span key={by}>
          {i > 0 && ', '}
          process {by}: <span className="number">{n}</span>
        </span>
      ))}
    </div>
  );
}

/** A run's frames, how long they take, and what failed. */
export function RunProgress({ run, output }: { run: Run; output: Output }) {
  const done = run.frames.filter((f) => f.state === 'done');
  const failed = run.frames.filter((f) => f.state === 'failed');
  const bytes = done.reduce((n, f) => n + (f.bytes ?? 0), 0);
  // eslint-disable-next-line react-hooks/purity -- a figure that only has to be about right at each progress event
  const elapsed = ((run.finishedAt ? Date.parse(run.finishedAt) : Date.now()) - Date.parse(run.startedAt)) / 1000;
  const left = done.length ? (elapsed / done.length) * (run.frames.length - done.length - failed.length) : undefined;
  const inWhole = isOneFile(output) && run.state !== 'done';
  return (
    <>
      <div style={{ display: 'flex', gap: 10 }}>
        <span className="strong" data-testid="run-state">
          {stateWords(run, output)}
        </span>
        {run.changedSince.length > 0 && (
          <span title="The files and the proof below are of then.">
            <ProofMark state="unproved" /> changed since: {run.changedSince.join(', ')}
          </span>
        )}
        <span className="quiet">
          <span className="number">{done.length}</span> of <span className="number">{run.frames.length}</span> frames
          {!inWhole && (
            <>
              , <span className="number">{(bytes / 1e6).toFixed(1)}</span> MB
            </>
          )}
          {done.length > 0 && (
            <>
              , <span className="number">{(elapsed / done.length).toFixed(2)}</span> s a frame
            </>
          )}
          {run.state === 'running' && left !== undefined && (
            <>
              , about <span className="number">{Math.ceil(left)}</span> s left
            </>
          )}
        </span>
      </div>
      <Progress
        percent={(100 * (done.length + failed.length)) / run.frames.length}
        showInfo={false}
        size="small"
        aria-label="Frames written"
        status={failed.length ? 'exception' : 'normal'}
      />
      <div className="run-frames" aria-hidden="true">
        {run.frames.map((f) => (
          <i key={f.frame} className={f.state} title={`${f.frame}: ${f.state}${f.by ? `, ${f.by}` : ''}`} />
        ))}
      </div>
      <WhoDidWhat run={run} />
      {run.message !== null && (
        <div className="check" role="alert">
          <span style={{ paddingTop: 3 }}>
            <ProofMark state="fails" />
          </span>
          <span>{run.message}</span>
        </div>
      )}
      {failed.slice(0, 6).map((f) => (
        <div key={f.frame} className="check">
          <span style={{ paddingTop: 3 }}>
            <ProofMark state="fails" />
          </span>
          <span>
            Frame <span className="number">{f.frame}</span>: {f.message}
          </span>
        </div>
      ))}
    </>
  );
}
