import { toPane, type Laid } from './geometry.ts';

/** A place in the picture, in its pixels, with a few letters. */
export interface PictureDot {
  readonly at: readonly [x: number, y: number];
  readonly words: string;
}

/** Marks that a stage sets on the picture, where they lie. */
export function Dots({ dots, laid }: { dots: readonly PictureDot[]; laid: Laid }) {
  return dots.map(({ at: [x, y], words }) => {
    const [left, top] = toPane(laid, x, y);
    return (
      <i key={`${x} ${y}`} className="dot number" style={{ left, top }}>
        {words}
      </i>
    );
  });
}
