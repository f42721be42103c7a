import type { CodeEncoding, DifferenceWay } from '@june-haze/core';
import { useEffect, useImperativeHandle, useRef, type Ref } from 'react';
import type { PictureCanvasHandle } from '../PictureCanvas.tsx';
import { samePart } from '../engine/drawnPictures.ts';
import { PicturePaper } from '../engine/PicturePaper.ts';
import type { Laid } from '../geometry.ts';

export interface DifferenceHandle {
  /** Either picture is another now. */
  changed(): void;
}

interface Props {
  readonly a: () => PictureCanvasHandle | null;
  readonly b: () => PictureCanvasHandle | null;
  readonly way: DifferenceWay;
  readonly encoding: CodeEncoding;
  readonly size: { readonly width: number; readonly height: number };
  readonly laid: Laid;
  readonly handle: Ref<DifferenceHandle>;
}

/** What lies between two pictures, drawn anew whenever either changes; while one is drawn, later ones wait as one. */
export function DifferenceCanvas({ a, b, way, encoding, size, laid, handle }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const paper = useRef<PicturePaper>(undefined);
  const state = useRef({ busy: false, again: false });
  const draw = useRef<() => void>(() => undefined);
  useEffect(() => {
    draw.current = () => {
      const [first, second] = [a()?.engine, b()?.engine];
      const [x, y] = [first?.shown, second?.shown];
      if (!first || !x || !y || x.request.level !== y.request.level) return;
      const [one, other] = samePart(x.drawn, y.drawn);
      if (!one || !other) return;
      if (state.current.busy) {
        state.current.again = true;
        return;
      }
      state.current = { busy: true, again: false };
      first.pool
        .drawDifference(one, other, way, encoding)
        .then((rgba) => {
          const target = canvas.current;
          if (!target) return;
          paper.current ??= new PicturePaper(target);
          paper.current.put({ ...one, rgba }, x.request, JSON.stringify([way, x.request.level]));
        })
        // A worker that died is begun again; the next change draws it.
        .catch(() => undefined)
        .finally(() => {
          state.current.busy = false;
          if (state.current.again) draw.current();
        });
    };
    draw.current();
  }, [a, b, way, encoding]);
  useImperativeHandle(handle, () => ({ changed: () => draw.current() }), []);
  return (
    <canvas
      ref={canvas}
      data-testid="difference"
      style={{
        width: size.width,
        height: size.height,
        transform: `translate(${laid.left}px, ${laid.top}px) scale(${laid.scaleX}, ${laid.scale})`,
        imageRendering: laid.scale * window.devicePixelRatio >= 1 ? 'pixelated' : 'auto',
      }}
    />
  );
}
