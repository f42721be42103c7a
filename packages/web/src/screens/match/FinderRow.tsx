import { Button } from 'antd';
import { arePlainLevels, type MatchRow } from '@june-haze/core';
import { useEffect, useRef } from 'react';
import { ProofMark } from '../../proof/ProofMark.tsx';

/** A row in a line: space, view, look, trims. */
export const shortTitle = (
  row: Pick<
    MatchRow,
    'space' | 'display' | 'view' | 'look' | 'lookFile' | 'exposure' | 'black' | 'white' | 'gamma' | 'mistake'
  >,
): string =>
  [
    row.space,
    row.display,
    row.view,
    row.look ? `look ${row.look}` : '',
    row.lookFile ? `look ${row.lookFile.name} on ${row.lookFile.space}` : '',
    row.exposure ? `exposure ${row.exposure > 0 ? '+' : '−'}${Math.abs(row.exposure).toFixed(2)}` : '',
    arePlainLevels(row) ? '' : `levels ${row.black.toFixed(2)} to ${row.white.toFixed(2)}`,
    row.gamma !== 1 ? `gamma ${row.gamma.toFixed(2)}` : '',
    row.mistake ? row.mistake.replaceAll('-', ' ') : '',
  ]
    .filter(Boolean)
    .join(' · ');

const stateOf = ({ maxCode, deltaE }: MatchRow) =>
  maxCode <= 1 || deltaE.p99 < 1 ? 'proved' : deltaE.p99 < 3 ? 'unproved' : 'differs';

interface Props {
  readonly row: MatchRow;
  readonly chosen: boolean;
  /** It is what the shot is set to. */
  readonly set: boolean;
  readonly onChoose: () => void;
  readonly onApply: () => void;
}

/** A row of the finder with its figures; the chosen one says what it means and can be set. */
export function FinderRow({ row, chosen, set, onChoose, onApply }: Props) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (chosen) box.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <div
      ref={box}
      className={`finder-row${chosen ? ' chosen' : ''}`}
      role="option"
      aria-selected={chosen}
      onClick={onChoose}
      onDoubleClick={onApply}
    >
      <ProofMark state={stateOf(row)} />
      <div className="what">
        <span className="strong">{shortTitle(row)}</span>
        <span className="quiet">
          from {row.config}
          {set ? ', set now' : ''}
        </span>
        {chosen && <span>{row.reason}.</span>}
        {chosen && row.confidence > 0 && (
          <span className="quiet">
            ahead of the next by <span className="number">{Math.round(100 * row.confidence)}</span> %
          </span>
        )}
        {chosen && !set && (
          <span>
            <Button
              size="small"
              onClick={(e) => {
                e.stopPropagation();
                onApply();
              }}
              title="The source is declared so, and this becomes the viewing (Enter)"
            >
              Declare {row.space} and set the viewing
            </Button>
          </span>
        )}
      </div>
      <span className="number two-figures">
        <span>{row.maxCode}</span>
        <span className="quiet">codes</span>
      </span>
      <span className="number two-figures">
        <span>{row.deltaE.p99.toFixed(2)}</span>
        <span className="quiet">ΔE 99 %</span>
      </span>
    </div>
  );
}
