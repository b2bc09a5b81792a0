'use client';
import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type EChartsCoreOption, type EChartsType } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';

register([BarChart, LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

/** A chart that fills its place. `label` says its numbers, for a canvas says nothing. */
export function Chart({ option, label, className = 'chart' }: { option: EChartsCoreOption; label: string; className?: string }) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  useEffect(() => {
    if (!box.current) return;
    chart.current = init(box.current);
    const observer = new ResizeObserver(() => chart.current?.resize());
    observer.observe(box.current);
    return () => {
      observer.disconnect();
      chart.current?.dispose();
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption(option, true);
  }, [option]);
  return <div ref={box} role="img" aria-label={label} className={className} />;
}
