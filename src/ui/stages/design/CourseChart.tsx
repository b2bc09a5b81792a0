'use client';
import { useMemo } from 'react';
import { Chart } from '../../kit/Chart';
import { TOKENS } from '../../theme/tokens';
import { useScheme } from '../../theme/useScheme';
import type { CoursePoint } from './useRetune';

/** The course of a search: what the best so far costs and what no choice goes below, in radios. What stands today is often far above both: it is said, not drawn. */
export function CourseChart({ course, today }: { course: readonly CoursePoint[]; today: number }) {
  const scheme = useScheme();
  const option = useMemo(() => {
    const t = TOKENS[scheme];
    const axis = {
      axisLabel: { color: t.ink2, fontFamily: 'IBM Plex Mono', fontSize: 10, hideOverlap: true },
      axisLine: { lineStyle: { color: t.rule } },
      splitLine: { show: false },
    };
    const line = (name: string, color: string, type: 'solid' | 'dotted', data: ReadonlyArray<readonly [number, number | null]>) => ({
      type: 'line',
      name,
      step: 'end',
      showSymbol: false,
      lineStyle: { color, width: type === 'solid' ? 1.8 : 1.4, type },
      itemStyle: { color },
      data,
    });
    return {
      animation: false,
      textStyle: { fontFamily: 'Inter' },
      legend: { left: 0, top: 0, itemWidth: 14, itemHeight: 6, itemGap: 8, textStyle: { color: t.ink, fontSize: 10 } },
      grid: { left: 36, right: 12, top: 20, bottom: 18 },
      xAxis: {
        type: 'value',
        min: 0,
        max: course.at(-1)!.atS,
        axisLabel: { ...axis.axisLabel, formatter: '{value} s', showMaxLabel: false },
        axisLine: axis.axisLine,
        splitLine: axis.splitLine,
      },
      yAxis: { type: 'value', min: 0, ...axis },
      series: [
        line(
          'best so far',
          t.ink,
          'solid',
          course.map(({ atS, best }) => [atS, best]),
        ),
        line(
          'no choice under',
          t.ink2,
          'dotted',
          course.map(({ atS, bound }) => [atS, bound]),
        ),
      ],
    };
  }, [course, scheme]);
  const [first, last] = [course[0]!, course.at(-1)!];
  return (
    <Chart
      option={option}
      className="course"
      label={`Course of the search: from ${first.best.toFixed(2)} to ${last.best.toFixed(2)} radios in ${(last.atS - first.atS).toFixed(1)} s, today ${today.toFixed(2)}`}
    />
  );
}
