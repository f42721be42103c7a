import type { ReactNode } from 'react';
import type { ReadBack } from '@june-haze/contract';

type Difference = ReadBack['tagged'];

export const codes = (n: number) => `${n} code ${n === 1 ? 'value' : 'values'}`;

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

/** A file three times: as shown here, as a reader that honours its tags shows it, as one that ignores them. */
export function ThreePictures({
  readBack,
  picture,
  words,
}: {
  readBack: ReadBack;
  /** Where a picture is; undefined while there is none. */
  picture: (name: 'shown' | 'tagged' | 'ignoring') => string | undefined;
  words: ReactNode;
}) {
  return (
    <div className="readback">
      <Picture of={picture('shown')} title="As shown here">
        <div className="quiet small">{words}</div>
      </Picture>
      <Picture of={picture('tagged')} title="Read by its tags">
        <Figures d={readBack.tagged} />
      </Picture>
      <Picture of={picture('ignoring')} title="Read without its tags">
        <Figures d={readBack.ignoring} />
      </Picture>
    </div>
  );
}
