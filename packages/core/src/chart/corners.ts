/** A place in a picture, in its pixels. */
export type Corner = readonly [x: number, y: number];
/** A chart's corners in a picture: top left, top right, bottom right, bottom left. */
export type ChartCorners = readonly [Corner, Corner, Corner, Corner];

/** Four corners are no chart's: three lie on a line, or they cross. */
export class CornersError extends Error {}

/**
 * From a chart's own unit square (across, then down, 0 … 1) to a picture, in perspective: the projective map through four corners
 * (P. Heckbert, Fundamentals of Texture Mapping and Image Warping, 1989, section 2.2.3). Throws a CornersError for corners that cross or lie on a line.
 */
export function perspective(corners: ChartCorners): (u: number, v: number) => Corner {
  requireConvex(corners);
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners;
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / whole;
  const h = (dx1 * sy - sx * dy1) / whole;
  const [a, b, c] = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0];
  const [d, e, f] = [y1 - y0 + g * y1, y3 - y0 + h * y3, y0];
  return (u, v) => {
    const depth = g * u + h * v + 1;
    return [(a * u + b * v + c) / depth, (d * u + e * v + f) / depth];
  };
}

/** The way round of each corner is the same, and none is flat. */
function requireConvex(corners: ChartCorners): void {
  const turns = corners.map(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % 4]!;
    const [mx, my] = corners[(i + 2) % 4]!;
    return (nx - x) * (my - ny) - (ny - y) * (mx - nx);
  });
  if (!turns.every((t) => t > 1e-6) && !turns.every((t) => t < -1e-6))
    throw new CornersError(
      'These are no corners of a chart: pin top left, top right, bottom right and bottom left, in this order.',
    );
}
