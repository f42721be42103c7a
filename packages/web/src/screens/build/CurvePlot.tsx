import { curveFunction } from '@june-haze/core';
import { CurveBackdrop, type CurveChannel } from './CurveBackdrop.tsx';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

type Point = readonly [number, number];

interface Props {
  label: string;
  channel: CurveChannel;
  points: readonly Point[];
  onDraft: (points: readonly Point[]) => void;
  onSave: (points: readonly Point[]) => void;
}

/** Of the plot, in pixels, with a rim that holds whole handles. */
const [width, height, rim] = [220, 120, 7];
const steps = 80;
/** Points keep so far from each other, so that the curve rises. */
const apart = 0.001;

/** A curve as it is, over how often each number occurs in what comes to it: points are dragged, or moved by the arrow keys; a double click adds one. */
export function CurvePlot({ label, channel, points: kept, onDraft, onSave }: Props) {
  const [moved, setMoved] = useState<readonly Point[]>();
  const svg = useRef<SVGSVGElement>(null);
  const points = moved ?? kept;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [left, right] = [Math.min(0, ...xs), Math.max(1, ...xs)];
  const [low, high] = [Math.min(0, ...ys), Math.max(1, ...ys)];
  const place = ([x, y]: Point): Point => [
    rim + ((x - left) / (right - left)) * (width - 2 * rim),
    height - rim - ((y - low) / (high - low)) * (height - 2 * rim),
  ];
  const at = (e: { clientX: number; clientY: number }): Point => {
    const box = svg.current!.getBoundingClientRect();
    return [
      left + ((e.clientX - box.left - rim) / (width - 2 * rim)) * (right - left),
      low + ((box.bottom - rim - e.clientY) / (height - 2 * rim)) * (high - low),
    ];
  };
  const withPoint = (i: number, point: Point) => points.map((p, k) => (k === i ? between(points, i, point) : p));
  const line = lineOf(points, left, right, place);
  const onKey = (i: number) => (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!step) return;
    e.preventDefault();
    const by = e.shiftKey ? 0.1 : 0.01;
    onSave(withPoint(i, [points[i]![0] + step[0]! * by, points[i]![1] + step[1]! * by]));
  };
  return (
    <svg
      ref={svg}
      className="curve-plot"
      width={width}
      height={height}
      role="group"
      aria-label={`${label}, drawn`}
      onDoubleClick={(e) => {
        const [x, y] = at(e);
        onSave([...points, [round(x), round(y)] as const].sort((a, b) => a[0] - b[0]));
      }}
    >
      <CurveBackdrop {...{ channel, left, right, height }} across={(x) => place([x, 0])[0]} />
      <line {...ends(place([left, left]), place([right, right]))} className="straight" />
      <polyline points={line} className="line" />
      {points.map((point, i) => {
        const [cx, cy] = place(point);
        return (
          <circle
            key={i}
            cx={cx}
            cy={cy}
            r={5}
            tabIndex={0}
            role="slider"
            aria-label={`${label}, point ${i + 1}`}
            aria-valuenow={point[1]}
            aria-valuetext={`${point[0]} to ${point[1]}`}
            onKeyDown={onKey(i)}
            onDoubleClick={(e) => e.stopPropagation()}
            onPointerDown={(e: PointerEvent) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={(e: PointerEvent) => {
              if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
              const next = withPoint(i, at(e));
              setMoved(next);
              onDraft(next);
            }}
            onPointerUp={() => {
              if (moved) onSave(moved);
              setMoved(undefined);
            }}
          />
        );
      })}
    </svg>
  );
}

const round = (v: number) => Math.round(v * 1000) / 1000;
const ends = ([x1, y1]: Point, [x2, y2]: Point) => ({ x1, y1, x2, y2 });

/** A point kept between its neighbours: to the right of the one before and not below it. */
function between(points: readonly Point[], i: number, [x, y]: Point): Point {
  const [before, after] = [points[i - 1], points[i + 1]];
  const hold = (v: number, least: number | undefined, most: number | undefined) =>
    Math.min(most ?? Infinity, Math.max(least ?? -Infinity, v));
  return [
    round(hold(x, before && before[0] + apart, after && after[0] - apart)),
    round(hold(y, before?.[1], after?.[1])),
  ];
}

/** The curve as a line through many places; nothing for points that make none. */
function lineOf(points: readonly Point[], left: number, right: number, place: (p: Point) => Point): string {
  try {
    const curve = curveFunction(points);
    const xs = Array.from({ length: steps + 1 }, (_, i) => left + ((right - left) * i) / steps);
    return xs.map((x) => place([x, curve(x)]).join(',')).join(' ');
  } catch {
    return '';
  }
}
