import { Button, InputNumber, Select } from 'antd';
import {
  greyTargets,
  neutralising,
  neutralisingWays,
  type NeutralisingWay,
  type ShotColour,
  type Vector3,
  type Window,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { PatchWords } from './PatchWords.tsx';
import { TypedGrey } from './TypedGrey.tsx';
import { RowsSelect, useRows, withAdjustments } from './rowsToChange.tsx';
import { orSentence, usePatch } from './usePatch.ts';

const wayWords: Readonly<Record<NeutralisingWay, string>> = {
  bradford: 'Bradford adaptation',
  cat02: 'CAT02 adaptation',
  gains: 'gains of the channels',
};

interface Props {
  readonly shot: Shot;
  readonly colour: ShotColour | undefined;
  /** The region that is marked in the picture. */
  readonly region: () => Window | null;
}

/** A marked grey made grey and as bright as it is meant to be: measured on one frame, set as adjustments on the rows that are chosen. */
export function Neutralise({ shot, colour, region }: Props) {
  const change = useShotChange();
  const [target, setTarget] = useState<number>(greyTargets[0].value);
  const [way, setWay] = useState<NeutralisingWay>('bradford');
  const choice = useRows(shot.ledger.document);
  const { into } = choice;
  const { begin, busy, patch: measured, problem: unmeasured } = usePatch(shot.id, region, 'the grey');
  const [typed, setTyped] = useState<Vector3>();
  const grey = typed ?? measured?.mean;
  const weights = colour?.luminance(shot.workingSpace);
  const made = grey && weights ? orSentence(() => neutralising(grey, target, way, weights)) : undefined;
  const found = typeof made === 'string' ? undefined : made;
  const problem = unmeasured ?? (typeof made === 'string' ? made : undefined);
  const set = () => {
    if (!found) return;
    const { document, revision } = shot.ledger;
    change.mutate({
      path: `/shots/${shot.id}/ledger`,
      method: 'PUT',
      body: { base: revision, document: withAdjustments(document, into, found), summary: 'neutralised by a grey' },
    });
  };
  return (
    <section className="neutralise" aria-label="Neutralise">
      <div className="bar">
        <span className="strong">Neutralise</span>
        <span className="quiet clip">mark a grey card in the picture: Alt and drag</span>
        <span className="grow" />
        <Button size="small" onClick={() => setTyped(grey ?? [0.18, 0.18, 0.18])} disabled={typed !== undefined}>
          Type its numbers
        </Button>
        <Button
          size="small"
          loading={busy}
          onClick={() => {
            setTyped(undefined);
            begin();
          }}
        >
          Measure the marked grey
        </Button>
      </div>
      {problem !== undefined && (
        <p className="inside problem" role="alert">
          {problem}
        </p>
      )}
      {typed && <TypedGrey value={typed} onChange={setTyped} space={shot.workingSpace} />}
      {grey && found && (
        <div className="inside">
          {!typed && measured && (
            <p role="status">
              <PatchWords patch={measured} />
            </p>
          )}
          <div className="view-file">
            <label htmlFor="grey-target">is meant to be</label>
            <span>
              <Select
                id="grey-target"
                size="small"
                value={greyTargets.some((g) => g.value === target) ? target : null}
                placeholder="typed"
                options={[...greyTargets]}
                onChange={setTarget}
                style={{ width: 230 }}
              />{' '}
              <InputNumber
                size="small"
                aria-label="What the grey is meant to be"
                value={Number(target.toFixed(4))}
                min={0.001}
                max={100}
                step={0.01}
                controls={false}
                onChange={(v) => v !== null && setTarget(v)}
                style={{ width: 64 }}
              />
            </span>
            <label htmlFor="grey-way">by</label>
            <Select
              id="grey-way"
              size="small"
              value={way}
              options={neutralisingWays.map((w) => ({ value: w, label: wayWords[w] }))}
              onChange={setWay}
            />
            <label htmlFor="grey-rows">on</label>
            <RowsSelect id="grey-rows" {...choice} />
          </div>
          <p className="quiet">{wordsOf(found)}</p>
          <Button size="small" type="primary" disabled={!into.length} onClick={set}>
            Set on {into.length} {into.length === 1 ? 'row' : 'rows'}
          </Button>
        </div>
      )}
    </section>
  );
}

/** What the adjustments do, in numbers. */
function wordsOf([, exposure]: ReturnType<typeof neutralising>): string {
  const stops = (exposure as unknown as { stops: number }).stops;
  return `The colour of the light is taken out and exposure moves by ${stops < 0 ? '−' : '+'}${Math.abs(stops).toFixed(2)} stops, before the rows’ other adjustments.`;
}
