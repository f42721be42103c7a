import type { MatteInPicture, PicturePoint } from '@june-haze/core';
import { useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { toPane, toPicture, type Laid } from './geometry.ts';

/** A shape that lies on the picture and is moved there. */
export interface PictureShape {
  readonly title: string;
  readonly values: Readonly<Record<string, unknown>>;
  readonly held: MatteInPicture<never>;
  readonly onDraft: (change: Readonly<Record<string, unknown>>) => void;
  readonly onSave: (change: Readonly<Record<string, unknown>>, words: string) => void;
}

interface Props {
  readonly shape: PictureShape;
  readonly laid: Laid;
  readonly box: RefObject<HTMLDivElement | null>;
}

const arrows: Readonly<Record<string, PicturePoint>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** A shape's outline and its handles: dragged, or moved by the arrow keys, a pixel or with Shift ten. */
export function ShapeHandles({ shape, laid, box }: Props) {
  const { title, held, onDraft, onSave } = shape;
  const [moved, setMoved] = useState<Readonly<Record<string, unknown>>>();
  const values = { ...shape.values, ...moved } as never;
  const at = (e: PointerEvent): PicturePoint => {
    const area = box.current!.getBoundingClientRect();
    return toPicture(laid, e.clientX - area.left, e.clientY - area.top);
  };
  const lines = held.outlines(values).map((line) => line.map(([x, y]) => toPane(laid, x, y).join(',')).join(' '));
  const onKey = (e: KeyboardEvent, id: string, from: PicturePoint, words: string) => {
    const by = arrows[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    const step = e.shiftKey ? 10 : 1;
    onSave(held.moved(values, id, [from[0] + by[0] * step, from[1] + by[1] * step]), words);
  };
  return (
    <div className="shape" role="group" aria-label={title}>
      <svg aria-hidden>
        {lines.map((points, i) => (
          <g key={i} className={i === 0 ? 'own' : 'falls'}>
            <polyline className="casing" points={points} />
            <polyline points={points} />
          </g>
        ))}
      </svg>
      {held.handles(values).map(({ id, title: words, at: place }) => {
        const [left, top] = toPane(laid, ...place);
        return (
          <button
            key={id}
            className="handle"
            style={{ left, top }}
            aria-label={`${words} of ${title}`}
            title={words}
            onKeyDown={(e) => onKey(e, id, place, words.toLowerCase())}
            onPointerDown={(e) => {
              e.stopPropagation();
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={(e) => {
              if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
              e.stopPropagation();
              const change = held.moved(shape.values as never, id, at(e));
              setMoved(change);
              onDraft(change);
            }}
            onPointerUp={(e) => {
              e.stopPropagation();
              if (moved) onSave(moved, words.toLowerCase());
              setMoved(undefined);
            }}
          />
        );
      })}
    </div>
  );
}
