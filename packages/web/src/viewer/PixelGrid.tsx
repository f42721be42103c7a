import { useEffect, useRef } from 'react';
import type { Drawn } from './engine/drawnPictures.ts';
import { seenOf, toPane, type Laid, type Lying } from './geometry.ts';

/** Screen pixels a picture pixel must have for the lines between them, and for its codes, to be drawn. */
export const [gridFrom, valuesFrom] = [8, 30];

interface Props {
  readonly laid: Laid;
  readonly lying: Lying;
  readonly drawn: Drawn | undefined;
  /** The level that it was drawn at. */
  readonly level: number;
  /** Another whenever the picture is another. */
  readonly turn: number;
}

/** The borders of pixels, and their codes where there is room, over what is seen. */
export function PixelGrid({ laid, lying, drawn, level, turn }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current!;
    const ratio = window.devicePixelRatio;
    target.width = Math.round(lying.pane.width * ratio);
    target.height = Math.round(lying.pane.height * ratio);
    const context = target.getContext('2d')!;
    context.scale(ratio, ratio);
    drawGrid(context, laid, lying);
    if (laid.scale >= valuesFrom && drawn && level === 0) drawValues(context, laid, lying, drawn);
  }, [laid, lying, drawn, level, turn]);
  return <canvas ref={canvas} className="over" aria-hidden data-testid="grid" />;
}

function drawGrid(context: CanvasRenderingContext2D, laid: Laid, lying: Lying): void {
  const { x, y, width, height } = seenOf(laid, lying);
  context.beginPath();
  for (let column = x; column <= x + width; column++) {
    const [px] = toPane(laid, column, 0);
    context.moveTo(px, toPane(laid, 0, y)[1]);
    context.lineTo(px, toPane(laid, 0, y + height)[1]);
  }
  for (let row = y; row <= y + height; row++) {
    const [, py] = toPane(laid, 0, row);
    context.moveTo(toPane(laid, x, 0)[0], py);
    context.lineTo(toPane(laid, x + width, 0)[0], py);
  }
  context.strokeStyle = 'rgb(119 119 119 / 60%)';
  context.lineWidth = 1;
  context.stroke();
}

function drawValues(
  context: CanvasRenderingContext2D,
  laid: Laid,
  lying: Lying,
  { rgba, width, height, window }: Drawn,
): void {
  const { x, y, width: across, height: down } = seenOf(laid, lying);
  const [left, top] = [window?.x ?? 0, window?.y ?? 0];
  context.font = '9px "Atkinson Hyperlegible Mono Variable", monospace';
  context.textAlign = 'center';
  for (let row = y; row < y + down; row++)
    for (let column = x; column < x + across; column++) {
      const [inX, inY] = [column - left, row - top];
      if (inX < 0 || inY < 0 || inX >= width || inY >= height) continue;
      const i = 4 * (inY * width + inX);
      const [r, g, b] = [rgba[i]!, rgba[i + 1]!, rgba[i + 2]!];
      // Black on light pixels, white on dark ones.
      context.fillStyle = 0.2126 * r + 0.7152 * g + 0.0722 * b > 118 ? '#000' : '#fff';
      const [px, py] = toPane(laid, column + 0.5, row + 0.5);
      [r, g, b].forEach((v, c) => context.fillText(String(v), px, py - 6 + 9.5 * c));
    }
}
