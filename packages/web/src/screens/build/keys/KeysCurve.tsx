import { valueAt, withKey, withoutKey, type Keyed, type Keys } from '@june-haze/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

const [width, height, rim] = [300, 72, 6];

interface Props {
  label: string;
  keyed: Keys;
  first: number;
  last: number;
  frame: number;
  step: number;
  range: readonly [number, number];
  onDraft: (keyed: Keyed) => void;
  onSave: (keyed: Keyed) => void;
}

/** A number over the shot's frames: keys are dragged, moved by the arrow keys, and taken away by Delete. */
export function KeysCurve({ label, keyed: kept, first, last, frame, step, range, onDraft, onSave }: Props) {
  const [moved, setMoved] = useState<Keys>();
  const svg = useRef<SVGSVGElement>(null);
  const keyed = moved ?? kept;
  // While a key is dragged, the scale stays where it was.
  const frames = kept.keys.map(([f]) => f);
  const [left, right] = [Math.min(first, ...frames), Math.max(last, ...frames)];
  const values = kept.keys.map(([, v]) => v);
  const spread = Math.max(...values) - Math.min(...values) || 10 * step;
  const [low, high] = [Math.min(...values) - 0.25 * spread, Math.max(...values) + 0.25 * spread];
  const x = (f: number) => rim + ((f - left) / Math.max(1, right - left)) * (width - 2 * rim);
  const y = (v: number) => height - rim - ((v - low) / (high - low)) * (height - 2 * rim);
  const held = (v: number) => Number(Math.min(range[1], Math.max(range[0], v)).toPrecision(5));
  const at = (e: PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect();
    const across = ((e.clientX - box.left) / box.width) * width;
    const up = ((box.bottom - e.clientY) / box.height) * height;
    const of = Math.round(left + ((across - rim) / (width - 2 * rim)) * (right - left));
    return [Math.min(right, Math.max(left, of)), held(low + ((up - rim) / (height - 2 * rim)) * (high - low))];
  };
  /** A key somewhere else; not onto another. */
  const put = (from: number, to: number, value: number): Keys => {
    const taken = to !== from && kept.keys.some(([f]) => f === to);
    const rest = { ...kept, keys: kept.keys.filter(([f]) => f !== from) };
    return withKey(rest, taken ? from : to, value);
  };
  const onKey = (e: KeyboardEvent, f: number, v: number) => {
    if (e.key === 'Delete' || e.key === 'Backspace') return onSave(withoutKey(kept, f));
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!by) return;
    e.preventDefault();
    onSave(put(f, f + by[0]!, held(v + by[1]! * step * (e.shiftKey ? 10 : 1))));
  };
  const all = Array.from({ length: right - left + 1 }, (_, i) => left + i);
  return (
    <svg
      ref={svg}
      className="keys-curve"
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={`${label} over frames`}
    >
      <line className="straight" x1={x(frame)} x2={x(frame)} y1={0} y2={height} />
      <polyline className="line" points={all.map((f) => `${x(f)},${y(valueAt(keyed, f))}`).join(' ')} />
      {keyed.keys.map(([f, v], i) => (
        <circle
          key={i}
          cx={x(f)}
          cy={y(v)}
          r={4.5}
          tabIndex={0}
          role="slider"
          aria-label={`${label} at frame ${f}`}
          aria-valuenow={v}
          onKeyDown={(e) => onKey(e, f, v)}
          onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
          onPointerMove={(e) => {
            if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
            const from = kept.keys[i];
            if (!from) return;
            // Between its neighbours: keys do not change places under the hand.
            const [before, after] = [kept.keys[i - 1]?.[0] ?? left - 1, kept.keys[i + 1]?.[0] ?? right + 1];
            const [to, value] = at(e);
            const next = put(from[0], Math.min(after - 1, Math.max(before + 1, to)), value);
            setMoved(next);
            onDraft(next);
          }}
          onPointerUp={() => {
            if (moved) onSave(moved);
            setMoved(undefined);
          }}
        />
      ))}
    </svg>
  );
}
