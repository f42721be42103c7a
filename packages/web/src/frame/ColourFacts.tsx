import { Popover, Select } from 'antd';
import { displays, workingSpaces } from '@june-haze/core';
import type { Shot, Viewing } from '@june-haze/contract';
import { useShotChange } from '../api/shots.ts';

/** The two facts never out of sight: working space and viewing. Click to change them. */
export function ColourFacts({ shot }: { shot: Shot }) {
  const change = useShotChange();
  const { viewing, workingSpace } = shot;
  const set = (body: { workingSpace?: string; viewing?: Viewing }) =>
    change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body });
  const views = displays.find((d) => d.name === viewing.display)?.views ?? [];
  const content = (
    <div style={{ display: 'grid', gridTemplateColumns: '110px 220px', gap: 8, alignItems: 'center' }}>
      <label htmlFor="working-space">Working space</label>
      <Select
        id="working-space"
        size="small"
        value={workingSpace}
        options={workingSpaces.map((s) => ({ value: s.name, label: s.name, title: s.about }))}
        onChange={(value: string) => set({ workingSpace: value })}
      />
      <span className="quiet small" style={{ gridColumn: '1 / -1' }}>
        Sums are made in it. Stored sources keep their declared space.
      </span>
      <label htmlFor="display">Display</label>
      <Select
        id="display"
        size="small"
        value={viewing.display}
        options={displays.map((d) => ({ value: d.name, label: d.name }))}
        onChange={(display: string) => set({ viewing: { ...viewing, display } })}
      />
      <label htmlFor="view">View</label>
      <Select
        id="view"
        size="small"
        value={viewing.view}
        options={views.map((v) => ({ value: v, label: v }))}
        onChange={(view: string) => set({ viewing: { ...viewing, view } })}
      />
      <span className="quiet small" style={{ gridColumn: '1 / -1' }}>
        Shown only, not written, unless an output says so.
      </span>
    </div>
  );
  return (
    <Popover content={content} trigger="click" placement="bottomRight" title="Colour of this shot">
      <button className="plain" aria-label="Working space and viewing">
        <span className="quiet">working in</span> <span className="strong">{workingSpace}</span>{' '}
        <span className="number">float32</span>
        <br />
        <span className="quiet">seen as</span>{' '}
        <span className="strong">
          {viewing.display} · {viewing.view} · no look
        </span>
      </button>
    </Popover>
  );
}
