import { memo, useState } from 'react';
import { Button } from 'antd';
import { shareWords, type Balance, type BalanceFault } from '@june-haze/core';
import type { BalanceProof, Shot } from '@june-haze/contract';
import { BalanceFaultList } from './BalanceFaultList.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';

interface Props {
  shot: Shot;
  frame: number;
  /** Computed here for what is shown now. */
  live: Balance | undefined;
  /** Computed on the server and stored, for the revision in force and this frame. */
  stored: BalanceProof | undefined;
  /** Why it could not be computed there. */
  failure: string | undefined;
  against: string | undefined;
  /** The ledger does more with the passes than put them together: whether they balance as they came, the server says. */
  changed: boolean;
  where: boolean;
  onWhere: (where: boolean) => void;
  onMend: (fault: BalanceFault) => void;
}

/** The double-ruled bottom row: the total against the beauty, what is left over, and where. */
export const BalanceRow = memo(function BalanceRow(props: Props) {
  const { shot, frame, live, stored, failure, against, changed, where, onWhere, onMend } = props;
  const [why, setWhy] = useState(false);
  if (!against) {
    return (
      <div className="balance" data-testid="balance">
        <span className="sign">=</span>
        <span className="quiet">Nothing to balance against: the ledger names no beauty pass.</span>
      </div>
    );
  }
  const figures = live ?? stored;
  // What was done with the passes since is no fault: the proof is that they balance as they came.
  const asCame = figures && !figures.balanced ? stored?.asCame : undefined;
  const packed = figures && !figures.balanced ? stored?.packing : undefined;
  const well = figures?.balanced === true || asCame?.balanced === true || packed?.within === true;
  const open = changed && stored === undefined;
  const state = !figures || (open && !well) ? 'unproved' : well ? 'proved' : 'differs';
  const asks = stored !== undefined && !stored.balanced && !stored.asCame?.balanced && !stored.packing?.within;
  return (
    <>
      {asks && why && (
        <div className="balance-why">
          <BalanceFaultList shot={shot} frame={frame} onMend={onMend} />
        </div>
      )}
      <div className="balance" data-testid="balance">
        <span className="strong" style={{ fontSize: 17, textAlign: 'center' }}>
          =
        </span>
        <div style={{ lineHeight: '17px', minWidth: 0 }}>
          <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
            <span className="strong">Total</span>
            <span className="quiet clip">against {against}</span>
          </div>
          <div className="beside">
            <ProofMark state={state} />
            <span className="clip">
              {figures ? balanceWords(figures, { asCame, packed, open }) : 'not compared yet'}
            </span>
          </div>
          {failure !== undefined && (
            <div className="small" role="status">
              Not stored: {failure}
            </div>
          )}
          {figures && (
            <div className="number quiet clip" style={{ fontSize: 11.5 }}>
              largest {figures.largest.toPrecision(3)} at {figures.at[0]}, {figures.at[1]} · mean{' '}
              {figures.mean.toPrecision(2)}
              <br />
              {shareWords(figures.overShare)} of pixels beyond half rounding
            </div>
          )}
        </div>
        {asks ? (
          <Button size="small" aria-expanded={why} onClick={() => setWhy(!why)}>
            Why
          </Button>
        ) : (
          <span className="quiet small">{stored ? 'stored' : ''}</span>
        )}
        <Button size="small" type={where ? 'primary' : 'default'} aria-pressed={where} onClick={() => onWhere(!where)}>
          {where ? 'Show total' : 'Show where'}
        </Button>
      </div>
    </>
  );
});

/** How the total stands beside the beauty; `open`: whether the passes balance as they came is not known yet. */
function balanceWords(
  { balanced, share }: Pick<Balance, 'balanced' | 'share'>,
  {
    asCame,
    packed,
    open,
  }: { asCame: BalanceProof['asCame'] | undefined; packed: BalanceProof['packing'] | undefined; open: boolean },
): string {
  if (balanced) return 'balanced';
  const changed = `changed by ${shareWords(share)}`;
  if (packed?.within) return `balanced within what ${packed.codec} loses${asCame ? `; ${changed}` : ''}`;
  if (asCame?.balanced) return `balanced as it came; ${changed}`;
  return open ? `${changed}; as it came is being compared` : `off by ${shareWords(share)}`;
}
