import { useEffect, useRef, useState } from 'react';
import type { EChartsCoreOption, EChartsType } from 'echarts/core';

/** The chart library is half a megabyte: it is fetched with the first chart. */
const load = () => import('./echarts.ts');

/** A chart that fills its box. `label` says in words what it shows. */
export function Chart({ option, label, height }: { option: EChartsCoreOption; label: string; height: number }) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType>(undefined);
  const [ready, setReady] = useState(false);
  useEffect(() => {
    let gone = false;
    const element = box.current!;
    const observer = new ResizeObserver(() => chart.current?.resize());
    void load().then(({ init }) => {
      if (gone) return;
      chart.current = init(element, undefined, { renderer: 'svg' });
      observer.observe(element);
      setReady(true);
    });
    return () => {
      gone = true;
      observer.disconnect();
      chart.current?.dispose();
      chart.current = undefined;
    };
  }, []);
  useEffect(() => {
    if (ready) chart.current?.setOption(option, { notMerge: true });
  }, [ready, option]);
  return <div ref={box} role="img" aria-label={label} style={{ height, minWidth: 0 }} />;
}
