import { Button } from 'antd';
import { centred, placementTo, planSource, relativeAspect, type Placement } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useContext, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { BeyondField } from '../intake/PacingFields.tsx';
import { NumberRow } from './NumberRow.tsx';
import { PlacingContext } from './placing.ts';

/** Where a source lies in the shot's picture: fitted, filling, centred, typed, or dragged in the picture. Folded where it lies as it is. */
export function PlacementRows({ shot, source }: { shot: Shot; source: Source }) {
  const placing = useContext(PlacingContext);
  const [opened, setOpened] = useState(false);
  const { id, width, height } = source;
  const kept = source.reading.placement;
  const at: Placement = kept ?? centred;
  const aspect = relativeAspect(planSource(source), shot.sources.map(planSource), shot);
  const lies = kept === null && width === shot.width && height === shot.height && aspect === 1;
  const beyond = source.still ? null : <Beyond shot={shot} source={source} />;
  if (lies && !opened)
    return (
      <>
        <Button size="small" type="link" style={{ padding: 0 }} onClick={() => setOpened(true)}>
          Place it elsewhere
        </Button>
        {beyond}
      </>
    );
  const save = (next: Placement | null) => placing.save(id, next);
  const moves = placing.source === id;
  const row = (label: string, value: number, change: (v: number) => Placement, more: object) => (
    <NumberRow
      label={label}
      value={value}
      unit="px"
      step={1}
      neutral={0}
      onDraft={(v) => placing.draft(id, change(v))}
      onSave={(v) => save(change(v))}
      {...rangeOf(shot)}
      {...more}
    />
  );
  const to = (how: 'fit' | 'fill') => placementTo(how, { width, height }, shot, aspect);
  return (
    <div role="group" aria-label={`Placement of ${source.name}`}>
      <p className="quiet small" style={{ margin: '4px 0' }}>
        All passes of {source.name}, {width}×{height}, in {shot.width}×{shot.height}
      </p>
      <div style={{ display: 'flex', gap: 6, marginBottom: 4, flexWrap: 'wrap' }}>
        <Button size="small" onClick={() => save(to('fit'))}>
          Fit
        </Button>
        <Button size="small" onClick={() => save(to('fill'))}>
          Fill
        </Button>
        <Button size="small" onClick={() => save(null)} disabled={kept === null}>
          Centre
        </Button>
        <Button
          size="small"
          type={moves ? 'primary' : 'default'}
          aria-pressed={moves}
          onClick={() => placing.setSource(moves ? undefined : id)}
        >
          Move it in the picture
        </Button>
      </div>
      {row('Scale', at.scale, (scale) => ({ ...at, scale }), {
        unit: '',
        min: 0.1,
        max: 8,
        step: 0.001,
        neutral: 1,
        scale: 'log',
        range: [0.001, 1000],
      })}
      {row('Right', at.shift[0], (x) => ({ ...at, shift: [x, at.shift[1]] }), {})}
      {row('Down', at.shift[1], (y) => ({ ...at, shift: [at.shift[0], y] }), {})}
      {beyond}
    </div>
  );
}

/** What a source gives where the shot goes on without it; nothing to choose where it lasts as long as the shot. */
function Beyond({ shot, source }: { shot: Shot; source: Source }) {
  const change = useShotChange();
  if (source.firstFrame <= shot.firstFrame && source.lastFrame >= shot.lastFrame) return null;
  return (
    <div className="reading" role="group" aria-label={`Frames of ${source.name}`}>
      <span className="quiet small number">
        {source.firstFrame}–{source.lastFrame} of {shot.firstFrame}–{shot.lastFrame}
      </span>
      <BeyondField
        sources={[source]}
        set={(reading) => change.mutate({ path: `/sources/${source.id}`, method: 'PATCH', body: { reading } })}
      />
    </div>
  );
}

const rangeOf = ({ width }: Shot) => ({ min: -width, max: width, range: [-1e5, 1e5] as const });
