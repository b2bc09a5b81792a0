'use client';
import { useScheme } from '../theme/useScheme';
import { LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type EChartsType } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import { TOKENS } from '../theme/tokens';
import { curveOption } from './curveOption';

register([LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

/** The coverage curve. Its numbers are in the accessible name too, for a canvas says nothing. */
export function CurveChart(props: Parameters<typeof curveOption>[0]) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  const scheme = useScheme();
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
    chart.current?.setOption(curveOption(props, TOKENS[scheme]), true);
  }, [props, scheme]);
  const at = (shares: readonly number[]) => ((shares[Math.round((props.threshold - props.from) / props.step)] ?? 0) * 100).toFixed(1);
  const then = props.other === null ? '' : `; ${props.other.name}: ${at(props.other.shares)} %`;
  return (
    <div
      ref={box}
      role="img"
      aria-label={`Coverage curve: ${at(props.shares)} % of the area at ${props.threshold} ${props.unit} ${props.better}${then}`}
      className="chart"
    />
  );
}
