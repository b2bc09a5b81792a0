'use client';
import { useMemo } from 'react';
import { HISTOGRAM, type FitSummary } from '@/core/survey/fit/summary';
import { Chart } from '../kit/Chart';
import { TOKENS } from '../theme/tokens';
import { useScheme } from '../theme/useScheme';

const OFF_DB = Array.from({ length: HISTOGRAM.steps }, (_, i) => (i - (HISTOGRAM.steps - 1) / 2) * HISTOGRAM.stepDb);
const text = (db: number): string => `${db > 0 ? '+' : ''}${db}`.replace('-', '−');

/** How many readings lie by how much off the drawing, and off what their neighbours foretell. */
export function ResidualChart({ histogram: { drawn, foretold } }: { histogram: FitSummary['histogram'] }) {
  const inks = TOKENS[useScheme()];
  const option = useMemo(
    () => ({
      animation: false,
      textStyle: { fontFamily: 'inherit' },
      grid: { left: 44, right: 12, top: 26, bottom: 34 },
      legend: { top: 0, right: 8, itemWidth: 14, textStyle: { color: inks.ink, fontSize: 12 } },
      tooltip: { trigger: 'axis' as const },
      xAxis: {
        type: 'category' as const,
        data: OFF_DB.map(text),
        name: 'reading less what was said, dB',
        nameLocation: 'middle' as const,
        nameGap: 22,
        nameTextStyle: { color: inks.ink2, fontSize: 12 },
        axisLabel: { color: inks.ink, fontSize: 12, interval: 4 },
      },
      yAxis: { type: 'value' as const, axisLabel: { color: inks.ink, fontSize: 12 }, splitLine: { lineStyle: { color: inks.rule } } },
      series: [
        { name: 'drawing', type: 'bar' as const, data: [...drawn], itemStyle: { color: inks.ink2 } },
        { name: 'foretold', type: 'bar' as const, data: [...foretold], itemStyle: { color: inks.hand } },
      ],
    }),
    [drawn, foretold, inks],
  );
  const within = (counts: readonly number[]): string => {
    const all = counts.reduce((sum, count) => sum + count, 0);
    const near = counts.reduce((sum, count, i) => sum + (Math.abs(OFF_DB[i]!) <= 4 ? count : 0), 0);
    return `${((near / all) * 100).toFixed(0)} %`;
  };
  return (
    <Chart
      className="residuals"
      option={option}
      label={`Readings within 5 dB: of the drawing ${within(drawn)}, of what is foretold ${within(foretold)}`}
    />
  );
}
