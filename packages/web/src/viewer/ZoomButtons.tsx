import { Button, Tooltip } from 'antd';
import { memo } from 'react';
import { useCommand } from '../commands/registry.ts';
import { lay, zoomAbout, type Lying, type View } from './geometry.ts';

interface Props {
  readonly view: View;
  readonly lying: Lying;
  readonly onView: (view: View) => void;
}

/** Whole scales with a key each: screen pixels for a picture pixel. */
const scales = [1, 2, 4, 8, 16, 32] as const;

/** Fitted, or so many pixels of the screen for one of the picture. */
export const ZoomButtons = memo(function ZoomButtons({ view, lying, onView }: Props) {
  const { scale } = lay(view, lying);
  const ratio = window.devicePixelRatio;
  const to = (next: number) => onView(zoomAbout(view, lying, next, lying.pane.width / 2, lying.pane.height / 2));
  useCommand({ name: 'Picture: fit', keys: '0', run: () => onView('fit') });
  useCommand({ name: 'Picture: nearer', keys: 'equal', run: () => to(scale * 1.25) });
  useCommand({ name: 'Picture: farther', keys: 'minus', run: () => to(scale / 1.25) });
  return (
    <>
      {scales.map((times, i) => (
        <ScaleCommand key={times} times={times} keys={String(i + 1)} run={() => to(times / ratio)} />
      ))}
      <Tooltip title="Fit (0)">
        <Button size="small" onClick={() => onView('fit')} aria-pressed={view === 'fit'}>
          Fit
        </Button>
      </Tooltip>
      <Tooltip title="One picture pixel on one screen pixel (1); 2:1 to 32:1 (2 to 6)">
        <Button size="small" onClick={() => to(1 / ratio)}>
          1:1
        </Button>
      </Tooltip>
      <span className="number" style={{ width: 46, textAlign: 'right' }}>
        {Math.round(scale * 100)} %
      </span>
    </>
  );
});

function ScaleCommand({ times, keys, run }: { times: number; keys: string; run: () => void }) {
  useCommand({ name: `Picture: ${times}:1`, keys, run });
  return null;
}
