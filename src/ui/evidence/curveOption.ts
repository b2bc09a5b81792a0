import type { EChartsCoreOption } from 'echarts/core';
import { chartAxis } from '../theme/chartAxis';
import type { Tokens } from '../theme/tokens';

/** The share of area at or above each level, as a chart: the curve in ink, the threshold in the hand's colour. */
export function curveOption(
  {
    from,
    step,
    shares,
    threshold,
    unit,
    better,
    other,
  }: {
    from: number;
    step: number;
    shares: readonly number[];
    threshold: number;
    unit: string;
    better: string;
    /** The same of what is compared with. */
    other: Readonly<{ shares: readonly number[]; name: string }> | null;
  },
  t: Tokens,
): EChartsCoreOption {
  const axis = chartAxis(t);
  const points = (of: readonly number[]) => of.map((share, i) => [from + step * i, Math.round(share * 1000) / 10]);
  const then = {
    type: 'line',
    name: other?.name ?? '',
    showSymbol: false,
    lineStyle: { color: t.ink2, width: 1.6, type: 'dashed' },
    itemStyle: { color: t.ink2 },
    data: points(other?.shares ?? []),
  };
  return {
    animation: false,
    ...(other === null ? {} : { legend: { right: 60, top: 0, textStyle: { color: t.ink, fontSize: 11 }, itemWidth: 26 } }),
    textStyle: { fontFamily: 'Inter' },
    grid: { left: 52, right: 60, top: 22, bottom: 26 },
    tooltip: { trigger: 'axis', confine: true, valueFormatter: (value: unknown) => `${Number(value).toFixed(1)} %` },
    xAxis: { type: 'value', min: from, max: from + step * (shares.length - 1), name: unit, ...axis },
    yAxis: {
      type: 'value',
      min: 0,
      max: 100,
      interval: 25,
      name: `share of area at this level ${better}, %`,
      nameLocation: 'end',
      ...axis,
      nameTextStyle: { ...axis.nameTextStyle, align: 'left', padding: [0, 0, 0, -40] },
    },
    series: [
      {
        type: 'line',
        name: 'now',
        showSymbol: false,
        lineStyle: { color: t.ink, width: 2 },
        itemStyle: { color: t.ink },
        data: points(shares),
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: t.hand, width: 1.6, type: 'solid' },
          label: { formatter: `${threshold} ${unit}`.replace('-', '−'), color: t.hand, fontFamily: 'IBM Plex Mono', fontSize: 10.5 },
          data: [{ xAxis: threshold }],
        },
      },
      ...(other === null ? [] : [then]),
    ],
  };
}
