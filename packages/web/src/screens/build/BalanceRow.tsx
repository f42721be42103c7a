import { memo } from 'react';
import { Button } from 'antd';
import type { Balance } from '@june-haze/core';
import type { BalanceProof } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';

interface Props {
  /** Computed here for what is shown now. */
  live: Balance | undefined;
  /** Computed on the server and stored, for the revision in force and this frame. */
  stored: BalanceProof | undefined;
  /** Why it could not be computed there. */
  failure: string | undefined;
  against: string | undefined;
  where: boolean;
  onWhere: (where: boolean) => void;
}

const percent = (x: number) => `${(x * 100).toFixed(x !== 0 && x < 0.001 ? 4 : 1)} %`;

/** The double-ruled bottom row: the total against the beauty, what is left over, and where. */
export const BalanceRow = memo(function BalanceRow({ live, stored, failure, against, where, onWhere }: Props) {
  if (!against) {
    return (
      <div className="balance" data-testid="balance">
        <span className="sign">=</span>
        <span className="quiet">Nothing to balance against: the ledger names no beauty pass.</span>
      </div>
    );
  }
  const figures = live ?? stored;
  const state = !figures ? 'unproved' : figures.balanced ? 'proved' : 'differs';
  return (
    <div className="balance" data-testid="balance">
      <span className="strong" style={{ fontSize: 17, textAlign: 'center' }}>
        =
      </span>
      <div style={{ lineHeight: '17px', minWidth: 0 }}>
        <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
          <span className="strong">Total</span>
          <span className="quiet">against {against}</span>
          <ProofMark state={state} />
          <span>
            {!figures ? 'not compared yet' : figures.balanced ? 'balanced' : `off by ${percent(figures.share)}`}
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
            {percent(figures.overShare)} of pixels beyond half rounding
          </div>
        )}
      </div>
      <span className="quiet small">{stored ? 'stored' : ''}</span>
      <Button size="small" type={where ? 'primary' : 'default'} aria-pressed={where} onClick={() => onWhere(!where)}>
        {where ? 'Show total' : 'Show where'}
      </Button>
    </div>
  );
});
