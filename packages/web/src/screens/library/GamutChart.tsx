import { useMemo } from 'react';
import {
  ap1,
  kernels,
  p3d65,
  primariesOf,
  rec2020,
  rec709,
  spectralLocus,
  type Primaries,
  type ShotColour,
} from '@june-haze/core';
import { Chart } from '../../charts/Chart.tsx';
import { chartStyle } from '../../charts/style.ts';
import { useRoom } from '../../room/room.ts';

const known: readonly [string, Primaries][] = [
  ['Rec.709', rec709],
  ['P3', p3d65],
  ['Rec.2020', rec2020],
  ['AP1', ap1],
];
const dashes = ['solid', 'dashed', 'dotted'] as const;

/** Gamuts and white points of a config's linear spaces on the CIE 1931 diagram, over the common ones in grey. */
export function GamutChart({ colour, height }: { colour: ShotColour; height: number }) {
  const { theme } = useRoom();
  const option = useMemo(() => {
    void theme;
    const style = chartStyle();
    const own = colour
      .spaces()
      .filter((s) => s.linear && s.origin === 'config')
      .flatMap((s) => {
        const primaries = safely(() => primariesOf(colour, s.name, kernels()));
        return primaries ? [[s.name, primaries] as const] : [];
      });
    const triangle = (p: Primaries) => [p.red, p.green, p.blue, p.red];
    const line = (name: string, data: readonly (readonly [number, number])[], look: object, colourOf: string) => ({
      type: 'line' as const,
      name,
      data,
      symbol: 'none',
      animation: false,
      lineStyle: { color: colourOf, width: 1.6, ...look },
      itemStyle: { color: colourOf },
    });
    return {
      textStyle: style.text,
      grid: { left: 40, right: 12, top: 10, bottom: 34 },
      legend: {
        orient: 'vertical',
        right: 12,
        top: 12,
        itemWidth: 22,
        itemHeight: 8,
        itemStyle: { opacity: 0 },
        data: [...own.map(([name]) => name), ...known.map(([name]) => name)],
        textStyle: { color: style.quiet, fontSize: 11 },
      },
      tooltip: { trigger: 'item', ...style.tooltip },
      xAxis: { type: 'value', min: -0.05, max: 0.8, name: 'x', nameLocation: 'middle', nameGap: 20, ...style.axis },
      yAxis: { type: 'value', min: -0.1, max: 0.9, name: 'y', nameLocation: 'middle', nameGap: 28, ...style.axis },
      series: [
        line('pure colours', [...spectralLocus, spectralLocus[0]!], { width: 1 }, style.quiet),
        ...known.map(([name, p], i) =>
          line(name, triangle(p), { width: 1, type: dashes[i % 3], opacity: 0.6 }, style.quiet),
        ),
        ...own.map(([name, p], i) =>
          line(name, triangle(p), { type: dashes[i % 3] }, ['#5a4fa0', '#0f6e6e', '#8a5a00', '#a1321f'][i % 4]!),
        ),
        {
          type: 'scatter' as const,
          name: 'white points',
          animation: false,
          symbol: 'diamond',
          symbolSize: 9,
          itemStyle: { color: style.ink },
          data: own.map(([name, p]) => ({ name, value: [...p.white] })),
        },
      ],
    };
  }, [theme, colour]);
  return <Chart option={option} label="Gamuts and white points on the CIE 1931 chromaticity diagram" height={height} />;
}

/** A space whose files are missing has no gamut; the list of problems names it. */
function safely<T>(run: () => T): T | undefined {
  try {
    return run();
  } catch {
    return undefined;
  }
}
