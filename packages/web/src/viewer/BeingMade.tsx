import type { Laid, Lying } from './geometry.ts';

/** Stands in the picture's place until it is drawn for the first time. */
export function BeingMade({ laid, lying }: { laid: Laid; lying: Lying }) {
  return (
    <div
      className="making-picture"
      role="status"
      style={{
        left: laid.left,
        top: laid.top,
        width: lying.picture.width * laid.scaleX,
        height: lying.picture.height * laid.scale,
      }}
    >
      The picture is being made
    </div>
  );
}
