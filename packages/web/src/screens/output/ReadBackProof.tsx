import type { Output, Run, Shot } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { codes, ThreePictures } from './ThreePictures.tsx';

/** A run's files read back: how far they are what was shown, and the first frame three times. */
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
      <ThreePictures
        readBack={first}
        picture={picture}
        words={
          <>
            frame <span className="number">{output.firstFrame}</span>, {shot.viewing.display} · {shot.viewing.view}
          </>
        }
      />
    </section>
  );
}
