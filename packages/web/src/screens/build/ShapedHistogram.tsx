import { fromAxis, onAxis, type MeasureHistogram } from '@june-haze/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

const [width, height] = [240, 96];

interface Props {
  histogram: MeasureHistogram;
  /** The corners of the line over it, from 0 to 1 upwards: a matte's, or levels'. */
  shape: readonly (readonly [number, number])[];
  /** The ends that can be dragged, by parameter. */
  ends: readonly { readonly key: string; readonly title: string; readonly value: number }[];
  onDraft: (change: Readonly<Record<string, number>>) => void;
  onSave: (change: Readonly<Record<string, number>>, words: string) => void;
}

/** How often each measure occurs (by the logarithm), with the rise and fall of what is made of it; its ends are dragged or moved by the arrow keys. */
export function ShapedHistogram({ histogram, shape, ends, onDraft, onSave }: Props) {
  const { low, high, counts, scale } = histogram;
  const svg = useRef<SVGSVGElement>(null);
  const [moving, setMoving] = useState<{ key: string; value: number }>();
  const x = (v: number) => (width * (onAxis(scale, v) - low)) / (high - low);
  const most = Math.log1p(Math.max(1, ...counts));
  const bars = [...counts].map((n, i) => `${(i * width) / counts.length},${height - (Math.log1p(n) / most) * height}`);
  const corners = shape.map(([v, y]) => `${x(v)},${height - 4 - y * (height - 12)}`);
  const first = shape[0]?.[1] ?? 0;
  const last = shape.at(-1)?.[1] ?? 0;
  const line = [`0,${height - 4 - first * (height - 12)}`, ...corners, `${width},${height - 4 - last * (height - 12)}`];
  const valueAt = (e: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const at = low + ((e.clientX - box.left) / box.width) * (high - low);
    return Number(fromAxis(scale, at).toPrecision(4));
  };
  const step = (e: KeyboardEvent, key: string, value: number, title: string) => {
    const by = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
    if (!by) return;
    e.preventDefault();
    const next = fromAxis(scale, onAxis(scale, value) + (by * (e.shiftKey ? 10 : 1) * (high - low)) / 200);
    onSave({ [key]: Number(next.toPrecision(4)) }, title.toLowerCase());
  };
  return (
    <svg
      ref={svg}
      className="shaped-histogram"
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      aria-label="Histogram"
      role="group"
    >
      <polygon className="bars" points={`0,${height} ${bars.join(' ')} ${width},${height}`} />
      <polyline className="line" points={line.join(' ')} />
      {ends.map(({ key, title, value }) => {
        const shown = moving?.key === key ? moving.value : value;
        return (
          <line
            key={key}
            className="end"
            role="slider"
            tabIndex={0}
            aria-label={title}
            aria-valuenow={shown}
            x1={x(shown)}
            x2={x(shown)}
            y1={0}
            y2={height}
            onKeyDown={(e) => step(e, key, value, title)}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setMoving({ key, value });
            }}
            onPointerMove={(e) => {
              if (moving?.key !== key) return;
              const next = valueAt(e);
              setMoving({ key, value: next });
              onDraft({ [key]: next });
            }}
            onPointerUp={(e) => {
              if (moving?.key !== key) return;
              setMoving(undefined);
              onSave({ [key]: valueAt(e) }, title.toLowerCase());
            }}
          />
        );
      })}
    </svg>
  );
}
