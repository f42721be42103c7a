import { Popover } from 'antd';
import { isLutDisplay } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { ColourSettings } from './ColourSettings.tsx';
import { lookOf } from './lookOf.ts';

/** The two facts never out of sight: working space and viewing. Click to change them. */
export function ColourFacts({ shot }: { shot: Shot }) {
  const { viewing, workingSpace } = shot;
  return (
    <Popover
      content={<ColourSettings shot={shot} />}
      trigger="click"
      placement="bottomRight"
      title="Colour of this shot"
      destroyOnHidden
    >
      <button className="plain" aria-label="Working space and viewing">
        <span className="quiet">working in</span> <span className="strong">{workingSpace}</span>{' '}
        <span className="number">float32</span>
        <br />
        <span className="quiet">seen as</span>{' '}
        <span className="strong seen-as">
          {isLutDisplay(viewing.display) ? 'LUT' : viewing.display} · {viewing.view} · {lookOf(viewing)}
        </span>
      </button>
    </Popover>
  );
}
