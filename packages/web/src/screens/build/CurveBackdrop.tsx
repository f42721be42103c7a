import { countsBetween } from '@june-haze/core';
import { useContext, useMemo } from 'react';
import { IncomingContext } from './useIncoming.ts';

/** The channel that a curve is for; the master is for all three. */
export type CurveChannel = 'master' | 'red' | 'green' | 'blue';

const bins = 72;
/** Room at the bottom for the names of stops. */
const foot = 12;
/** Named stops stand at least so many pixels apart. */
const apart = 24;
const grey = 0.18;
const stops = Array.from({ length: 21 }, (_, i) => i - 10);

interface Props {
  channel: CurveChannel;
  left: number;
  right: number;
  height: number;
  /** Where a number lies, in pixels from the left. */
  across: (x: number) => number;
}

/** Behind a curve: how often each number occurs in what comes to it (by the logarithm), and where stops from 18 % grey lie. */
export function CurveBackdrop({ channel, left, right, height, across }: Props) {
  const incoming = useContext(IncomingContext);
  const counts = useMemo(
    () => incoming && countsOf(incoming.colours, channel, left, right),
    [incoming, channel, left, right],
  );
  if (!incoming || !counts) return null;
  const most = Math.log1p(Math.max(1, ...counts));
  const x = (i: number) => across(left + ((i + 0.5) * (right - left)) / bins);
  const y = (n: number) => height - foot - (Math.log1p(n) / most) * (height - foot - 8);
  const bars = [...counts].map((n, i) => `${x(i)},${y(n)}`);
  const marks = namedStops(incoming.grey, left, right, across);
  return (
    <>
      <polygon className="bars" points={`${x(0)},${height - foot} ${bars.join(' ')} ${x(bins - 1)},${height - foot}`}>
        <title>How often each number occurs in what comes to the curve</title>
      </polygon>
      {marks.map(({ stop, at }) => (
        <g key={stop}>
          <line className="stop" x1={at} x2={at} y1={height - foot} y2={height - foot + 3} />
          <text x={at} y={height - 2}>
            {stop > 0 ? `+${stop}` : stop < 0 ? `−${-stop}` : 'grey'}
          </text>
        </g>
      ))}
    </>
  );
}

function countsOf(
  colours: readonly [Float32Array, Float32Array, Float32Array],
  channel: CurveChannel,
  left: number,
  right: number,
): Uint32Array {
  const of = { master: [0, 1, 2], red: [0], green: [1], blue: [2] }[channel];
  const each = of.map((c) => countsBetween(colours[c]!, left, right, bins));
  return each[0]!.map((_, i) => each.reduce((sum, counts) => sum + counts[i]!, 0));
}

/** Stops within the plot, from grey outwards, each far enough from those that are named already. */
function namedStops(greyIn: (light: number) => number, left: number, right: number, across: (x: number) => number) {
  const named: { stop: number; at: number }[] = [];
  for (const stop of [...stops].sort((a, b) => Math.abs(a) - Math.abs(b))) {
    const v = greyIn(grey * 2 ** stop);
    const at = across(v);
    if (v >= left && v <= right && named.every((n) => Math.abs(n.at - at) >= apart)) named.push({ stop, at });
  }
  return named;
}
