import { Button } from 'antd';
import type { Shot } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { LeftOverChart } from './LeftOverChart.tsx';
import { LeftOverFields } from './LeftOverFields.tsx';
import { LeftOverSaturations } from './LeftOverSaturations.tsx';
import { registrationWords } from './registrationWords.ts';
import type { Proving } from './useProof.ts';

const titles = {
  identical: 'Identical',
  equal: 'Equal to the eye',
  close: 'Close',
  differs: 'Differs',
  'cannot-tell': 'Cannot tell',
} as const;

interface Props {
  readonly shot: Shot;
  readonly proving: Proving;
}

/** The reference proof: the present viewing against the reference, in numbers, and where they lie apart. */
export function ProofPanel({ shot, proving }: Props) {
  const { proof } = shot.match;
  const { display, view, look, lookFile } = shot.viewing;
  const seen = [display, view, look, lookFile?.name].filter(Boolean).join(' · ');
  return (
    <section className="proof-panel" aria-label="Reference proof">
      <div className="bar">
        <ProofMark state={shot.proofs.match.state} />
        <span className="strong">{proof ? titles[proof.verdict] : 'Not compared yet'}</span>
        <span className="quiet clip">{seen}</span>
        <span className="grow" />
        <Button size="small" loading={proving.busy} onClick={proving.again}>
          Prove again
        </Button>
      </div>
      <div className="inside">
        {proving.problem !== undefined && !proof && (
          <p className="problem" role="alert">
            {proving.problem}
          </p>
        )}
        {proof && (
          <>
            <p role="status">
              {proof.reason} {registrationWords(proof.registration)}
            </p>
            <dl className="figures">
              <dt>largest</dt>
              <dd className="number" data-testid="proof-largest">
                {proof.maxCode} {proof.maxCode === 1 ? 'code' : 'codes'}
              </dd>
              <dt>mean</dt>
              <dd className="number">{proof.meanCode.toFixed(3)}</dd>
              <dt>exactly equal</dt>
              <dd className="number">{(100 * proof.equal).toFixed(1)} %</dd>
              <dt>CIEDE2000 99 %</dt>
              <dd className="number">{proof.deltaE.p99.toFixed(2)}</dd>
            </dl>
            {proof.maxCode > 1 && (
              <div className="left-over">
                <LeftOverChart leftOver={proof.leftOver} />
                <LeftOverFields leftOver={proof.leftOver} />
                <LeftOverSaturations leftOver={proof.leftOver} />
              </div>
            )}
          </>
        )}
      </div>
    </section>
  );
}
