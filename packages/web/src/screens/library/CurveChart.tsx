import { useMemo } from 'react';
import { Chart } from '../../charts/Chart.tsx';
import { channelLines, chartStyle } from '../../charts/style.ts';
import { useRoom } from '../../room/room.ts';
import type { Axis, Curve } from './curve.ts';

interface Props {
  title: string;
  axis: Axis;
  curve: Curve;
  other?: Curve | undefined;
  /** Draws other − curve instead of the two. */
  difference?: boolean;
  height: number;
}

const same = ({ values: [r, g, b] }: Curve) =>
  r.every((x, i) => Math.abs(x - g[i]!) < 1e-5 && Math.abs(x - b[i]!) < 1e-5);

/** A grey ramp through one or two transforms, or the difference of two. */
export function CurveChart({ title, axis, curve, other, difference = false, height }: Props) {
  const { theme } = useRoom();
  const option = useMemo(() => {
    void theme;
    const style = chartStyle();
    const grey = same(curve) && (!other || same(other));
    const lines = grey ? [{ name: 'all channels', color: style.ink, type: 'solid' as const }] : channelLines;
    const seriesOf = (c: Curve, name: string, width: number, opacity: number) =>
      lines.map((line, k) => ({
        type: 'line' as const,
        name: name ? `${line.name}, ${name}` : line.name,
        symbol: 'none',
        animation: false,
        lineStyle: { color: line.color, type: line.type, width, opacity },
        itemStyle: { color: line.color },
        data: c.at.map((x, i) => [x, c.values[k]![i]!]),
      }));
    const shown =
      difference && other
        ? seriesOf(
            {
              at: curve.at,
              values: curve.values.map((plane, c) =>
                plane.map((x, i) => other.values[c]![i]! - x),
              ) as unknown as Curve['values'],
            },
            'difference',
            1.6,
            1,
          )
        : [...seriesOf(curve, other ? 'this' : '', 2, 1), ...(other ? seriesOf(other, 'other', 1.4, 0.6) : [])];
    return {
      textStyle: style.text,
      grid: { left: 46, right: 14, top: 26, bottom: 34 },
      legend: {
        top: 0,
        right: 10,
        itemWidth: 22,
        itemHeight: 8,
        itemStyle: { opacity: 0 },
        textStyle: { color: style.quiet, fontSize: 11 },
      },
      tooltip: {
        trigger: 'axis',
        ...style.tooltip,
        valueFormatter: (v: unknown) => (typeof v === 'number' ? v.toFixed(4) : ''),
      },
      xAxis: {
        type: 'value',
        min: curve.at[0],
        max: curve.at.at(-1),
        interval: axis === 'stops' ? 2 : 0.1,
        name: axis === 'stops' ? 'stops from 18 % grey' : 'numbers in',
        nameLocation: 'middle',
        nameGap: 20,
        ...style.axis,
      },
      yAxis: { type: 'value', scale: true, ...style.axis },
      series: shown,
    };
  }, [theme, axis, curve, other, difference]);
  return <Chart option={option} label={title} height={height} />;
}
