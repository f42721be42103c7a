import type { ReactNode } from 'react';
import { HeatLegend } from './compare/HeatLegend.tsx';
import { StopsLegend } from './inspect/StopsLegend.tsx';
import type { Sight } from './sights.ts';
import type { PictureDrag } from './usePointer.ts';
import type { Way } from './ways.ts';

interface Props {
  readonly told: string | undefined;
  /** Both pictures, where both are seen. */
  readonly pair: readonly [string, string] | undefined;
  /** What was done to the second to make it fit beside the first. */
  readonly notes: readonly string[];
  readonly faults: readonly (string | undefined)[];
  readonly stops: boolean;
  readonly heat: 'codes' | 'deltaE' | undefined;
  readonly children: ReactNode;
}

/** What stands over the picture: what is seen, what is wrong, what its colours mean. */
export function PaneTags({ told, pair, notes, faults, stops, heat, children }: Props) {
  return (
    <div className="tags">
      {told !== undefined && (
        <div className="tag" role="status">
          {told}
        </div>
      )}
      {pair && (
        <div className="tag">
          <span className="number quiet">A</span> {pair[0]} <span className="number quiet">B</span> {pair[1]}
        </div>
      )}
      {notes.length > 0 && <div className="tag quiet">B: {notes.join('; ')}</div>}
      {faults.map(
        (words, i) =>
          words !== undefined && (
            <div key={i} className="tag fault" role="alert">
              {words}
            </div>
          ),
      )}
      {stops && <StopsLegend />}
      {heat && <HeatLegend of={heat} />}
      {children}
    </div>
  );
}

/** What a person must know of what is seen, if anything. */
export function tagOf(of: {
  picking: boolean;
  drag: PictureDrag | undefined;
  show: 'total' | 'difference';
  held: Sight | undefined;
  between: Way | undefined;
  times: number;
}): string | undefined {
  if (of.picking) return 'Pick: click in the picture; Escape leaves';
  if (of.drag) return `Moving ${of.drag.what}: drag, or arrow keys; Escape ends`;
  if (of.held) return of.held.name;
  if (of.between === 'difference') return `Difference of codes, times ${of.times}`;
  return of.show === 'difference' ? 'Distance from the beauty, times 100' : undefined;
}
