import { Button, InputNumber } from 'antd';
import { blackAndWhite, type Window } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { PatchWords } from './PatchWords.tsx';
import { RowsSelect, useRows, withFit } from './rowsToChange.tsx';
import { orSentence, usePatch } from './usePatch.ts';

interface Props {
  readonly shot: Shot;
  /** The region that is marked in the picture. */
  readonly region: () => Window | null;
}

/** A black and a white that are marked are brought to what they are meant to be, channel by channel: haze and the colour of the light go. */
export function BlackAndWhite({ shot, region }: Props) {
  const change = useShotChange();
  const choice = useRows(shot.ledger.document);
  const { into } = choice;
  const black = usePatch(shot.id, region, 'the black');
  const white = usePatch(shot.id, region, 'the white');
  const [to, setTo] = useState({ black: 0, white: 0.9 });
  const [low, high] = [black.patch, white.patch];
  const made = low && high ? orSentence(() => blackAndWhite(low.mean, high.mean, to)) : undefined;
  const found = typeof made === 'string' ? undefined : made;
  const set = () => {
    if (!found) return;
    const { document, revision } = shot.ledger;
    change.mutate({
      path: `/shots/${shot.id}/ledger`,
      method: 'PUT',
      body: { base: revision, document: withFit(document, into, found), summary: 'brought to a black and a white' },
    });
  };
  const problem = black.problem ?? white.problem ?? (typeof made === 'string' ? made : undefined);
  const points = [
    { name: 'black', own: black },
    { name: 'white', own: white },
  ] as const;
  return (
    <section className="neutralise" aria-label="Black and white">
      <div className="bar">
        <span className="strong">Black and white</span>
        <span className="quiet clip">mark each in the picture: Alt and drag</span>
        <span className="grow" />
        {points.map(({ name, own }) => (
          <Button key={name} size="small" loading={own.busy} onClick={own.begin}>
            Measure the {name}
          </Button>
        ))}
      </div>
      {problem !== undefined && (
        <p className="inside problem" role="alert">
          {problem}
        </p>
      )}
      {(black.patch ?? white.patch) && (
        <div className="inside">
          {points.map(
            ({ name, own }) =>
              own.patch && (
                <p key={name} role="status">
                  {name}: <PatchWords patch={own.patch} />
                </p>
              ),
          )}
          <div className="view-file">
            {points.map(({ name }) => [
              <label key={name} htmlFor={`${name}-target`}>
                {name} is meant to be
              </label>,
              <InputNumber
                key={`${name} target`}
                id={`${name}-target`}
                size="small"
                value={to[name]}
                min={0}
                max={100}
                step={0.01}
                controls={false}
                onChange={(v) => v !== null && setTo({ ...to, [name]: v })}
                style={{ width: 80 }}
              />,
            ])}
            <label htmlFor="points-rows">on</label>
            <RowsSelect id="points-rows" {...choice} />
          </div>
          <Button
            size="small"
            type="primary"
            disabled={!into.length || !found}
            onClick={set}
            title="Gains on all of them; what is taken off the sum is taken off the last"
          >
            Set on {into.length} {into.length === 1 ? 'row' : 'rows'}
          </Button>
        </div>
      )}
    </section>
  );
}
