import { useEffect, useImperativeHandle, useRef, type CSSProperties, type Ref } from 'react';
import type { PictureResult } from './engine/messages.ts';
import type { OnHeld, PictureEngine } from './engine/PictureEngine.ts';
import type { Laid } from './geometry.ts';
import { usePicture, type Moved, type Shown, type Told } from './usePicture.ts';

export interface PictureCanvasHandle {
  readonly engine: PictureEngine | undefined;
  /** The level that it is drawn at when it rests. */
  readonly level: number;
  move(moved: Moved): void;
}

interface Props {
  readonly shown: Shown;
  readonly laid: Laid;
  readonly told: Told;
  readonly handle: Ref<PictureCanvasHandle>;
  readonly testId: string;
  /** Frames that may be drawn ahead, the next first. */
  readonly ahead?: readonly number[] | undefined;
  readonly onHeld?: OnHeld | undefined;
  readonly style?: CSSProperties | undefined;
}

/** One picture on a canvas of its own, where it lies in its pane. */
export function PictureCanvas({ shown, laid, told, handle, testId, ahead, onHeld, style }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { engine, level, move } = usePicture(canvas, shown, told);
  useImperativeHandle(
    handle,
    () => ({
      get engine() {
        return engine.current;
      },
      level,
      move,
    }),
    [engine, level, move],
  );
  useEffect(
    () => engine.current?.fill(ahead ?? [], (frames, prints) => onHeld?.(frames, prints)),
    [engine, ahead, onHeld],
  );
  const { size } = shown;
  return (
    <canvas
      ref={canvas}
      data-testid={testId}
      style={{
        width: size.width,
        height: size.height,
        transform: `translate(${laid.left}px, ${laid.top}px) scale(${laid.scaleX}, ${laid.scale})`,
        imageRendering: laid.scale * window.devicePixelRatio >= 1 ? 'pixelated' : 'auto',
        ...style,
      }}
    />
  );
}

/** How long a picture took, and whether it was made coarser while something moves. */
export const inWords = ({ milliseconds, level: drawnAt }: PictureResult, level: number): string =>
  `${milliseconds.toFixed(0)} ms${drawnAt > level ? ` · 1/${2 ** (drawnAt - level)} size while it moves` : ''}`;
