import type { LeftOver } from '@june-haze/core';
import { useMemo } from 'react';
import { Chart } from '../../charts/Chart.tsx';
import { channelLines, chartStyle } from '../../charts/style.ts';
import { useRoom } from '../../room/room.ts';

/** Bands with fewer pixels than this share are not drawn. */
const leastShare = 0.0005;

/** The curve that is left over: how far the reference lies above or below ours, by ours. */
export function LeftOverChart({ leftOver }: { leftOver: LeftOver }) {
  const { theme } = useRoom();
  const option = useMemo(() => {
    void theme;
    const style = chartStyle();
    return {
      textStyle: style.text,
      grid: { left: 34, right: 8, top: 26, bottom: 30 },
      tooltip: {
        trigger: 'axis',
        ...style.tooltip,
        valueFormatter: (v: unknown) => (typeof v === 'number' ? v.toFixed(2) : ''),
      },
      xAxis: { type: 'value', min: 0, max: 255, name: 'our code', nameLocation: 'middle', nameGap: 18, ...style.axis },
      yAxis: { type: 'value', name: 'reference − ours', ...style.axis },
      series: channelLines.map((line, c) => ({
        type: 'line' as const,
        name: line.name,
        symbol: 'none',
        animation: false,
        lineStyle: { color: line.color, type: line.type, width: 1.6 },
        itemStyle: { color: line.color },
        data: leftOver.bands.flatMap(({ mean, share }, i) => (share >= leastShare ? [[16 * i + 8, mean[c]!]] : [])),
      })),
    };
  }, [leftOver, theme]);
  return <Chart option={option} height={150} label={`What is left over by brightness: ${leftOver.words}`} />;
}
