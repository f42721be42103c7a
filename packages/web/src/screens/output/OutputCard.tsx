import { App, Button, Progress } from 'antd';
import { holdsDeepSamples, type Output, type Run, type Shot } from '@june-haze/contract';
import { useState } from 'react';
import { send } from '../../api/request.ts';
import { usePreCheck, useShotChange } from '../../api/shots.ts';
import { BakedMark } from '../../colour/BakedMark.tsx';
import { bakedInto } from '../../colour/bakedInto.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { writtenRun } from '../../viewer/sights.ts';
import { OutputForm } from './OutputForm.tsx';
import { ReadBackProof } from './ReadBackProof.tsx';
import { TryFrame } from './TryFrame.tsx';

const kinds = { exr: 'EXR', aces: 'ACES container', png: 'PNG', jpeg: 'JPEG', tiff: 'TIFF' } as const;

/** One output: what it writes, what to know before, its run and the proof. */
export function OutputCard({ shot, output, onLook }: { shot: Shot; output: Output; onLook: () => void }) {
  const change = useShotChange();
  const { modal, message } = App.useApp();
  const [editing, setEditing] = useState(false);
  const { data: check, error: checkError } = usePreCheck(output.id, shot);
  const runs = shot.runs.filter((r) => r.outputId === output.id);
  const run = runs[0];
  const running = run?.state === 'running';
  const stopped = check?.items.some((i) => i.weight === 'stop');
  const write = (overwrite: boolean) =>
    change.mutate({ path: `/outputs/${output.id}/runs`, method: 'POST', body: { overwrite } });
  const begin = () => {
    if (!check?.existing) return write(false);
    modal.confirm({
      title: 'Replace files?',
      content: `${check.existing} ${check.existing === 1 ? 'file is' : 'files are'} already there.`,
      okText: 'Replace',
      onOk: () => write(true),
    });
  };
  const baked = bakedInto(output, shot.viewing, shot.ledger.document);
  const what =
    output.kind === 'exr'
      ? `${output.sampleType}, ${output.compression.toUpperCase()}, ${output.space ?? shot.workingSpace}`
      : output.kind === 'aces'
        ? 'half, ACES2065-1'
        : `${shot.viewing.display} · ${shot.viewing.view}${holdsDeepSamples(output.kind) ? `, ${output.bits} bits` : ''}`;
  return (
    <article className="output" aria-label={output.name}>
      <header>
        <span className="strong">{output.name}</span>
        <span>
          {kinds[output.kind]} <span className="quiet">{what}</span>
        </span>
        {baked && <BakedMark words={baked} />}
        <span className="number quiet clip">{output.pattern}</span>
        <span className="number">
          {output.firstFrame}–{output.lastFrame}
        </span>
        <span className="grow" />
        {writtenRun(shot, output.id) && (
          <Button size="small" onClick={onLook}>
            Look at the files
          </Button>
        )}
        <Button size="small" onClick={() => setEditing(true)} disabled={running}>
          Change
        </Button>
        <Button
          size="small"
          disabled={running}
          onClick={() =>
            modal.confirm({
              title: `Remove ${output.name}?`,
              content: 'Its settings and its runs’ proofs go. Files that were written stay where they are.',
              okText: 'Remove',
              onOk: () => change.mutate({ path: `/outputs/${output.id}`, method: 'DELETE' }),
            })
          }
        >
          Remove
        </Button>
        {running ? (
          <Button
            size="small"
            danger
            onClick={() => void send(`/runs/${run.id}/cancel`, 'POST').catch((e: Error) => message.error(e.message))}
          >
            Stop
          </Button>
        ) : (
          <Button size="small" type="primary" disabled={stopped} loading={change.isPending} onClick={begin}>
            Write files
          </Button>
        )}
      </header>
      <div className="inside">
        <section aria-label="Before writing">
          <div className="strong" style={{ marginBottom: 4 }}>
            Before writing
          </div>
          {checkError && (
            <div className="check" role="alert">
              <ProofMark state="fails" />
              <span>The list could not be made: {checkError.message}</span>
            </div>
          )}
          {check?.items.map((item) => (
            <div key={item.text} className="check">
              {item.weight === 'note' ? (
                <span className="quiet" aria-hidden>
                  –
                </span>
              ) : (
                <span style={{ paddingTop: 3 }}>
                  <ProofMark state={item.weight === 'stop' ? 'fails' : 'differs'} />
                </span>
              )}
              <span>{item.text}</span>
            </div>
          ))}
        </section>
        <section aria-label="Last run">
          {run ? <RunProgress run={run} /> : <span className="quiet">Not written yet.</span>}
        </section>
      </div>
      {!running && <TryFrame key={triedOf(shot, output)} shot={shot} output={output} blocked={stopped === true} />}
      {run && run.frames.some((f) => f.readBack) && <ReadBackProof run={run} output={output} shot={shot} />}
      <OutputForm
        title={`Change ${output.name}`}
        open={editing}
        settings={output}
        shot={shot}
        onClose={() => setEditing(false)}
        onSave={(settings) =>
          change.mutate(
            { path: `/outputs/${output.id}`, method: 'PUT', body: settings },
            { onSuccess: () => setEditing(false) },
          )
        }
      />
    </article>
  );
}

/** What a tried frame hangs on: when it changes, what was tried is no longer so. */
const triedOf = ({ ledger, viewing, workingSpace, colour, sources }: Shot, output: Output): string =>
  JSON.stringify([
    output,
    ledger.revision,
    viewing,
    workingSpace,
    colour,
    sources.map((s) => [s.stamp, s.declaredSpace]),
  ]);

function RunProgress({ run }: { run: Run }) {
  const done = run.frames.filter((f) => f.state === 'done');
  const failed = run.frames.filter((f) => f.state === 'failed');
  const bytes = done.reduce((n, f) => n + (f.bytes ?? 0), 0);
  // eslint-disable-next-line react-hooks/purity -- a figure that only has to be about right at each progress event
  const elapsed = ((run.finishedAt ? Date.parse(run.finishedAt) : Date.now()) - Date.parse(run.startedAt)) / 1000;
  const left = done.length ? (elapsed / done.length) * (run.frames.length - done.length - failed.length) : undefined;
  const words = { running: 'writing', done: 'written', failed: 'written in part', cancelled: 'stopped' }[run.state];
  return (
    <>
      <div style={{ display: 'flex', gap: 10 }}>
        <span className="strong" data-testid="run-state">
          {words}
        </span>
        {run.changedSince.length > 0 && (
          <span title="The files and the proof below are of then.">
            <ProofMark state="unproved" /> changed since: {run.changedSince.join(', ')}
          </span>
        )}
        <span className="quiet">
          <span className="number">{done.length}</span> of <span className="number">{run.frames.length}</span> frames,{' '}
          <span className="number">{(bytes / 1e6).toFixed(1)}</span> MB
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
          <i key={f.frame} className={f.state} title={`${f.frame}: ${f.state}`} />
        ))}
      </div>
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
