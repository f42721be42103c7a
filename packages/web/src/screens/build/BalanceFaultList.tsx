import { Button } from 'antd';
import { faultWords, isMended, shareWords, type BalanceFault } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useBalanceFaults } from '../../api/balance.ts';

interface Props {
  shot: Shot;
  frame: number;
  onMend: (fault: BalanceFault) => void;
}

/** Why the passes do not add up to their beauty: which is missing, doubled or in another exposure, each with its mending. */
export function BalanceFaultList({ shot, frame, onMend }: Props) {
  const { data, error } = useBalanceFaults(shot, frame, true);
  if (error) return <p className="small">It could not be found out: {error.message}</p>;
  if (!data) return <p className="quiet small">Trying each pass…</p>;
  if (!data.faults.length)
    return (
      <p className="small">
        No pass that is missing, doubled or in another exposure explains it: as they came, the passes are off by{' '}
        {shareWords(data.asCame.share)}.
      </p>
    );
  return (
    <ul className="fault-list" aria-label="Why it does not balance">
      {data.faults.map((fault) => {
        const mended = isMended(shot.ledger.document, fault);
        return (
          <li key={faultWords(fault)}>
            <span>{faultWords(fault, { mended })}</span>
            {!mended && (
              <Button size="small" onClick={() => onMend(fault)}>
                {fault.kind === 'missing'
                  ? 'Put it in'
                  : fault.kind === 'twice'
                    ? 'Switch one off'
                    : 'Set its exposure'}
              </Button>
            )}
          </li>
        );
      })}
      <li className="quiet small">
        {data.whole
          ? 'Then nothing is left but half rounding.'
          : `This explains ${(data.explained * 100).toFixed(1)} % of the difference.`}
      </li>
    </ul>
  );
}
