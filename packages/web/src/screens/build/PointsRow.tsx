import { Button, InputNumber } from 'antd';
import type { CurveChannel } from './CurveBackdrop.tsx';
import { CurvePlot } from './CurvePlot.tsx';

type Points = readonly (readonly [number, number])[];

interface Props {
  label: string;
  /** Which of an incoming picture's channels the curve is for. */
  channel: CurveChannel;
  points: Points;
  /** While one is dragged. */
  onDraft: (points: Points) => void;
  onSave: (points: Points) => void;
}

/** A curve as it is drawn, and its points, in and out, as numbers. */
export function PointsRow({ label, channel, points, onDraft, onSave }: Props) {
  const set = (i: number, side: 0 | 1, value: number) =>
    onSave(points.map((p, k): [number, number] => (k === i ? (side === 0 ? [value, p[1]] : [p[0], value]) : [...p])));
  const add = () => {
    const [a, b] = [points.at(-2) ?? [0, 0], points.at(-1) ?? [1, 1]];
    const middle: [number, number] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
    onSave([...points.slice(0, -1), middle, ...points.slice(-1)]);
  };
  const field = (i: number, side: 0 | 1) => (
    <InputNumber
      size="small"
      className="number"
      controls={false}
      step={0.01}
      aria-label={`${label}, point ${i + 1}, ${side === 0 ? 'in' : 'out'}`}
      value={points[i]![side]}
      onChange={(v) => v !== null && set(i, side, v)}
    />
  );
  return (
    <div className="points">
      <CurvePlot label={label} channel={channel} points={points} onDraft={onDraft} onSave={onSave} />
      {points.map((_, i) => (
        <div key={i} className="point">
          {field(i, 0)}
          <span className="quiet">→</span>
          {field(i, 1)}
          {points.length > 2 && (
            <Button
              size="small"
              type="text"
              aria-label={`Remove point ${i + 1} of ${label}`}
              onClick={() => onSave(points.filter((__, k) => k !== i))}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      <Button size="small" type="link" style={{ padding: 0 }} onClick={add}>
        Add a point
      </Button>
    </div>
  );
}
