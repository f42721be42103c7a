import { Button, Slider } from 'antd';
import { memo, useState } from 'react';

interface Props {
  exposure: number;
  /** While it moves. */
  onMove: (stops: number) => void;
  /** When it comes to rest. */
  onExposure: (stops: number) => void;
}

/** An exposure for the eye alone: no file knows of it. */
export const ViewingExposure = memo(function ViewingExposure({ exposure: kept, onMove, onExposure }: Props) {
  const [moving, setMoving] = useState<number>();
  const exposure = moving ?? kept;
  return (
    <>
      <Slider
        ariaLabelForHandle="Viewing exposure"
        min={-6}
        max={6}
        step={0.1}
        value={exposure}
        onChange={(stops) => {
          setMoving(stops);
          onMove(stops);
        }}
        onChangeComplete={(stops) => {
          setMoving(undefined);
          onExposure(stops);
        }}
        style={{ width: 90, margin: '0 6px' }}
        tooltip={{ open: false }}
      />
      <span className="number" style={{ width: 34, textAlign: 'right' }}>
        {exposure.toFixed(1)}
      </span>
      {exposure !== 0 && (
        <Button size="small" type="text" onClick={() => onExposure(0)}>
          Reset
        </Button>
      )}
    </>
  );
});
