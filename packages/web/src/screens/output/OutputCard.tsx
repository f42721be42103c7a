import { App, Button } from 'antd';
import { displayCodes } from '@june-haze/core';
import { holdsDeepSamples, holdsPictures, keepsFromWriting, type Output, type Shot } from '@june-haze/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { send } from '../../api/request.ts';
import { usePreCheck, useShotChange } from '../../api/shots.ts';
import { BakedMark } from '../../colour/BakedMark.tsx';
import { bakedInto } from '../../colour/bakedInto.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { writtenRun } from '../../viewer/sights.ts';
import { CheckList } from './CheckList.tsx';
import { HandOverButton } from './HandOverButton.tsx';
import { OutputForm } from './OutputForm.tsx';
import { ReadBackProof } from './ReadBackProof.tsx';
import { RunProgress } from './RunProgress.tsx';
import { TryFrame } from './TryFrame.tsx';

const kinds = {
  exr: 'EXR',
  aces: 'ACES container',
  dpx: 'DPX',
  png: 'PNG',
  jpeg: 'JPEG',
  tiff: 'TIFF',
  movie: 'Movie',
  sheet: 'Contact sheet',
  passes: 'Passes',
};
const codecs = { h264: 'H.264', vp9: 'VP9', prores: 'ProRes' } as const;

/** What an output's numbers are, and how they are packed. */
function whatOf(output: Output, { workingSpace, viewing }: Shot): string {
  const codes = output.codes ? ` as ${displayCodes[output.codes].name}` : '';
  const seen = `${viewing.display} · ${viewing.view}${codes}`;
  switch (output.kind) {
    case 'exr':
      return `${output.sampleType}, ${output.compression.toUpperCase()}, ${output.space ?? workingSpace}`;
    case 'aces':
      return 'half, ACES2065-1';
    case 'passes':
      return `${output.passes.length} passes${output.mattes.length ? ` and ${output.mattes.length} mattes` : ''}, ${output.compression.toUpperCase()}`;
    case 'dpx':
      return `10 bits, ${output.space ?? 'no space chosen'}`;
    case 'sheet':
      return `${output.sheetFile.toUpperCase()}, ${seen}`;
    case 'movie':
      return `${codecs[output.codec]}, ${seen}`;
    default:
      if (!holdsPictures(output))
        return `${output.space}, without the viewing${holdsDeepSamples(output.kind) ? `, ${output.bits} bits` : ''}`;
      return `${seen}${holdsDeepSamples(output.kind) ? `, ${output.bits} bits` : ''}`;
  }
}

/** One output: what it writes, what to know before, its run and the proof. */
export function OutputCard({ shot, output, onLook }: { shot: Shot; output: Output; onLook: () => void }) {
  const change = useShotChange();
  const { modal, message } = App.useApp();
  const navigate = useNavigate();
  const [editing, setEditing] = useState(false);
  const { data: check, error: checkError } = usePreCheck(output.id, shot);
  const runs = shot.runs.filter((r) => r.outputId === output.id);
  const run = runs[0];
  const open = run?.state === 'running' || run?.state === 'paused';
  const left = run?.state === 'failed' || run?.state === 'cancelled';
  const take = (to: 'cancel' | 'pause' | 'resume' | 'again') =>
    void send(`/runs/${run!.id}/${to}`, 'POST').catch((e: Error) => message.error(e.message));
  const stopped = check?.items.some(keepsFromWriting);
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
  return (
    <article className="output" aria-label={output.name}>
      <header>
        <span className="strong" style={{ whiteSpace: 'nowrap' }}>
          {output.name}
        </span>
        <span>
          {kinds[output.kind]} <span className="quiet">{whatOf(output, shot)}</span>
        </span>
        {baked && <BakedMark words={baked} />}
        <span className="number quiet clip">{output.pattern}</span>
        <span className="number" style={{ whiteSpace: 'nowrap' }}>
          {output.firstFrame}–{output.lastFrame}
        </span>
        <span className="grow" />
        {writtenRun(shot, output.id) && (
          <Button size="small" onClick={onLook}>
            Look at the files
          </Button>
        )}
        {run?.state === 'done' && (
          <>
            <Button
              size="small"
              title="The files as a source of this shot"
              loading={change.isPending}
              onClick={() =>
                change.mutate(
                  { path: `/runs/${run.id}/bring-in`, method: 'POST' },
                  { onSuccess: () => void navigate(`/shots/${shot.id}/intake`) },
                )
              }
            >
              Bring in
            </Button>
            <HandOverButton run={run} />
          </>
        )}
        <Button size="small" onClick={() => setEditing(true)} disabled={open}>
          Change
        </Button>
        <Button
          size="small"
          disabled={open}
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
        {open ? (
          <>
            <Button size="small" onClick={() => take(run.state === 'paused' ? 'resume' : 'pause')}>
              {run.state === 'paused' ? 'Go on' : 'Pause'}
            </Button>
            <Button size="small" danger onClick={() => take('cancel')}>
              Stop
            </Button>
          </>
        ) : (
          <>
            {left && (
              <Button size="small" onClick={() => take('again')}>
                Write what is left
              </Button>
            )}
            <Button size="small" type="primary" disabled={stopped} loading={change.isPending} onClick={begin}>
              Write files
            </Button>
          </>
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
          {check && <CheckList shot={shot} output={output} items={check.items} />}
        </section>
        <section aria-label="Last run">
          {run ? <RunProgress run={run} output={output} /> : <span className="quiet">Not written yet.</span>}
        </section>
      </div>
      {!open && <TryFrame key={triedOf(shot, output)} shot={shot} output={output} items={check?.items} />}
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
