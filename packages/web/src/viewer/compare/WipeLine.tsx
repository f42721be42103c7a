import type { PointerEvent } from 'react';

export interface Wipe {
  /** Where the line's handle is, as shares of the pane. */
  readonly at: readonly [number, number];
  /** From upright, in degrees, clockwise. */
  readonly angle: number;
}

/** The part of a pane on the far side of the line, as a CSS clip path. */
export function wipedPart({ at, angle }: Wipe, { width, height }: { width: number; height: number }): string {
  const turn = (angle * Math.PI) / 180;
  const [x, y] = [at[0] * width, at[1] * height];
  const far = 2 * (width + height);
  // Along the line, and away from it to its right.
  const [alongX, alongY] = [Math.sin(turn), -Math.cos(turn)];
  const [awayX, awayY] = [Math.cos(turn), Math.sin(turn)];
  const corners = [
    [x + alongX * far, y + alongY * far],
    [x + alongX * far + awayX * far, y + alongY * far + awayY * far],
    [x - alongX * far + awayX * far, y - alongY * far + awayY * far],
    [x - alongX * far, y - alongY * far],
  ];
  return `polygon(${corners.map(([cx, cy]) => `${cx!.toFixed(1)}px ${cy!.toFixed(1)}px`).join(', ')})`;
}

interface Props {
  readonly wipe: Wipe;
  readonly pane: { readonly width: number; readonly height: number };
  readonly onChange: (wipe: Wipe) => void;
}

/** How far from its middle the line is turned by. */
const armLength = 90;

/** The line between two pictures: its middle is dragged, its arm turns it; arrow keys move it, with Shift they turn it. */
export function WipeLine({ wipe, pane, onChange }: Props) {
  const { at, angle } = wipe;
  const [x, y] = [at[0] * pane.width, at[1] * pane.height];
  const within = (v: number) => Math.min(1, Math.max(0, v));
  const follow = (turns: boolean) => ({
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      e.stopPropagation();
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
      const area = e.currentTarget.closest('.picture')!.getBoundingClientRect();
      const [px, py] = [e.clientX - area.left, e.clientY - area.top];
      if (turns) onChange({ at, angle: Math.round((Math.atan2(px - x, y - py) * 180) / Math.PI) });
      else onChange({ at: [within(px / pane.width), within(py / pane.height)], angle });
    },
  });
  return (
    <div className="wipe" style={{ transform: `translate(${x}px, ${y}px) rotate(${angle}deg)` }}>
      <i className="line" />
      <button
        className="plain grip"
        aria-label={`Wipe line at ${Math.round(at[0] * 100)} % across, ${angle} degrees: arrow keys move it, Shift and arrow keys turn it`}
        onKeyDown={(e) => {
          const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key] ?? [];
          if (dx === undefined || dy === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          if (e.shiftKey) onChange({ at, angle: angle + 5 * (dx + dy) });
          else onChange({ at: [within(at[0] + dx / 50), within(at[1] + dy / 50)], angle });
        }}
        {...follow(false)}
      />
      <i className="arm" style={{ top: -armLength }} {...follow(true)} />
    </div>
  );
}
