import type { ReactNode } from 'react';
import type { Output, Run, Shot } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';

type Difference = NonNullable<Run['frames'][number]['readBack']>['tagged'];

const codes = (n: number) => `${n} code ${n === 1 ? 'value' : 'values'}`;

function Figures({ d }: { d: Difference }) {
  return (
    <div className="number quiet" style={{ fontSize: 11.5, lineHeight: '16px' }}>
      largest {codes(d.maxCode)}, mean {d.meanCode.toFixed(3)}
      <br />
      CIEDE2000 mean {d.deltaE.mean.toFixed(3)}, p99 {d.deltaE.p99.toFixed(2)}, max {d.deltaE.max.toFixed(2)}
    </div>
  );
}

function Picture({ of, title, children }: { of: string | undefined; title: string; children: ReactNode }) {
  return (
    <figure style={{ margin: 0 }}>
      {of !== undefined && <img src={of} alt={title} />}
      <figcaption>
        <span className="strong">{title}</span>
        {children}
      </figcaption>
    </figure>
  );
}

/** The written file three times: as shown here, as a reader that honours its tags shows it, as one that ignores them. */
export function ReadBackProof({ run, output, shot }: { run: Run; output: Output; shot: Shot }) {
  const frames = run.frames.filter((f) => f.readBack);
  const first = frames[0]!.readBack!;
  const worst = frames.reduce((a, b) => (b.readBack!.tagged.maxCode > a.readBack!.tagged.maxCode ? b : a));
  const proved = frames.every((f) => f.readBack!.proved);
  // A proof speaks of what was written then.
  const stale = run.changedSince.length > 0;
  // The pictures are the first frame's, which need not be done first.
  const pictured = run.frames[0]?.state === 'done';
  const picture = (name: string) => (pictured ? `/api/runs/${run.id}/pictures/${name}` : undefined);
  return (
    <section aria-label="Read-back proof" data-testid="read-back">
      <div style={{ display: 'flex', gap: 8, alignItems: 'center', padding: '4px 12px 8px' }}>
        <ProofMark state={stale ? 'unproved' : proved ? 'proved' : 'differs'} />
        <span className="strong" style={{ flex: 'none' }}>
          {stale ? 'When written, it read back ' : 'Reads back '}
          {proved ? 'as shown' : 'otherwise'}
        </span>
        <span className="quiet">
          {frames.length} {frames.length === 1 ? 'frame' : 'frames'} decoded again; worst is frame{' '}
          <span className="number">{worst.frame}</span> with {codes(worst.readBack!.tagged.maxCode)}{' '}
          {worst.readBack!.judged && `(${worst.readBack!.judged})`}. The file’s own {first.tags}.
        </span>
      </div>
      <div className="readback">
        <Picture of={picture('shown')} title="As shown here">
          <div className="quiet small">
            frame <span className="number">{output.firstFrame}</span>, {shot.viewing.display} · {shot.viewing.view}
          </div>
        </Picture>
        <Picture of={picture('tagged')} title="Read by its tags">
          <Figures d={first.tagged} />
        </Picture>
        <Picture of={picture('ignoring')} title="Read without its tags">
          <Figures d={first.ignoring} />
        </Picture>
      </div>
    </section>
  );
}
