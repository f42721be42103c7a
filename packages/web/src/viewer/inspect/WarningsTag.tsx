import { warningKinds, warnings, type WarningKind } from '@june-haze/core';
import { shareWords } from './InspectBar.tsx';

interface Props {
  readonly warn: readonly WarningKind[];
  readonly warned: readonly number[];
  /** Share of pixels that the look cuts off; undefined without one that does. */
  readonly clipped: number | undefined;
}

/** What is marked in the picture, with the share of its pixels. */
export function WarningsTag({ warn, warned, clipped }: Props) {
  return (
    <>
      {warn.length > 0 && (
        <div className="legend" role="status" aria-label="Marked pixels">
          {warningKinds.map((kind, k) =>
            warn.includes(kind) ? (
              <span key={kind} className="band">
                <i style={{ background: `rgb(${warnings[kind].colour.join()})` }} />
                {warnings[kind].title} <span className="number">{shareWords(warned[k] ?? 0)}</span>
              </span>
            ) : null,
          )}
        </div>
      )}
      {clipped !== undefined && clipped > 0 && (
        <div className="tag number" role="status">
          The look cuts off {clipped < 0.001 ? '< 0.1' : (clipped * 100).toFixed(1)} % of the pixels
        </div>
      )}
    </>
  );
}
