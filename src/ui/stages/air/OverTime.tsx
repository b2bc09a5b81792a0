'use client';
import type { EChartsCoreOption } from 'echarts/core';
import { useMemo, useRef, useState } from 'react';
import { levelOf, type HeardNetwork } from '@/core/air/heard';
import { Chart } from '../../kit/Chart';
import { Choice } from '../../kit/Choice';
import { useSize } from '../../plan/useSize';
import { useScheme } from '../../theme/useScheme';
import { chartAxis } from '../../theme/chartAxis';
import { TOKENS, type Tokens } from '../../theme/tokens';
import { signed } from '../../state/format';
import { useAir } from './airStore';
import { clock } from './clock';
import { labelShifts } from './outlines';

const WINDOWS = [
  { value: 60, label: '1 min' },
  { value: 300, label: '5 min' },
  { value: 900, label: '15 min' },
  { value: 3600, label: '1 h' },
  { value: 6 * 3600, label: '6 h' },
  { value: 24 * 3600, label: '24 h' },
] as const;
/** More lines than this cannot be told apart. */
const MOST_LINES = 8;
const KINDS = ['solid', 'dashed', 'dotted'] as const;
const MARKS = ['none', 'circle', 'rect', 'triangle'] as const;

/** What of the box is not the chart's own field: the filters and the margin above, the times below, in px. */
const [TOP_PX, BOTTOM_PX] = [34 + 22, 26];
/** Levels against time, a line kind and an end label for each; gaps where it was not heard, a line where it changed its channel. */
export function timeOption(
  networks: readonly HeardNetwork[],
  titleOf: (network: HeardNetwork) => string,
  fromMs: number,
  toMs: number,
  pxPerDb: number,
  t: Tokens,
): EChartsCoreOption {
  const axis = chartAxis(t);
  const shifts = labelShifts(networks.map(levelOf), pxPerDb);
  return {
    animation: false,
    textStyle: { fontFamily: 'Inter' },
    grid: { left: 48, right: 110, top: 22, bottom: 26 },
    tooltip: {
      trigger: 'axis',
      confine: true,
      valueFormatter: (value: unknown) => (typeof value === 'number' ? `${signed(value)} dBm` : 'not heard'),
    },
    xAxis: {
      type: 'value',
      min: fromMs,
      max: toMs,
      ...axis,
      splitNumber: 6,
      axisLabel: { ...axis.axisLabel, formatter: (value: number) => clock(value), hideOverlap: true },
    },
    yAxis: {
      type: 'value',
      min: -100,
      max: -20,
      interval: 10,
      name: 'dBm',
      ...axis,
      axisLabel: { ...axis.axisLabel, formatter: (value: number) => signed(value) },
    },
    series: networks.map(({ history, newest, moved }, i) => {
      const points: Array<[number, number | null]> = [];
      history.atMs.forEach((atMs, k) => atMs >= fromMs && points.push([atMs, Number.isNaN(history.dbm[k]) ? null : history.dbm[k]!]));
      // What is not heard now has its gap up to now.
      const name = `${titleOf(networks[i]!)} ${newest.channel}`;
      return {
        type: 'line',
        name,
        data: points,
        connectNulls: false,
        showSymbol: MARKS[Math.floor(i / KINDS.length) % MARKS.length] !== 'none' || points.length < 3,
        symbol: i < KINDS.length ? 'circle' : MARKS[Math.floor(i / KINDS.length) % MARKS.length],
        symbolSize: 5,
        lineStyle: { color: i === 0 ? t.hand : t.ink, width: i === 0 ? 2 : 1.5, type: KINDS[i % KINDS.length] },
        itemStyle: { color: i === 0 ? t.hand : t.ink },
        endLabel: { show: true, formatter: name, color: i === 0 ? t.hand : t.ink, fontSize: 11.5, offset: [0, shifts[i]!] },
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: t.ink2, type: 'dotted', width: 1 },
          label: { color: t.ink2, fontSize: 10.5 },
          data: moved
            .filter(({ atMs }) => atMs >= fromMs)
            .map(({ atMs, channel, widthMhz }) => ({ xAxis: atMs, label: { formatter: `to ${channel}/${widthMhz}` } })),
        },
      };
    }),
  };
}

/** The loudest radios, of each its loudest name. */
function loudest(networks: readonly HeardNetwork[]): HeardNetwork[] {
  const radios = new Map<string, HeardNetwork>();
  for (const one of [...networks].sort((a, b) => b.bestDbm - a.bestDbm)) if (!radios.has(one.bssid.slice(2))) radios.set(one.bssid.slice(2), one);
  return [...radios.values()].slice(0, 5);
}

/** Levels of the picked networks over time; of the loudest ones where none is picked. */
export function OverTime({ networks, nameOf }: { networks: readonly HeardNetwork[]; nameOf: (bssid: string) => string | null }) {
  const picked = useAir((s) => s.picked);
  const clockMs = useAir((s) => s.clockMs);
  const [windowS, setWindow] = useState(60);
  const tokens = TOKENS[useScheme()];
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const titleOf = useMemo(() => (network: HeardNetwork) => nameOf(network.bssid) ?? (network.newest.network.ssid || '(hidden)'), [nameOf]);
  const shown = useMemo(() => {
    const own = networks.filter(({ bssid }) => picked.includes(bssid));
    return (own.length > 0 ? own : loudest(networks)).slice(0, MOST_LINES);
  }, [networks, picked]);
  const option = useMemo(
    () => timeOption(shown, titleOf, clockMs - windowS * 1000, clockMs, ((size?.heightPx ?? 360) - TOP_PX - BOTTOM_PX) / 80, tokens),
    [shown, titleOf, clockMs, windowS, size?.heightPx, tokens],
  );
  const gone = shown.filter(({ nowDbm }) => nowDbm === null);
  const words = shown
    .map((one) => `${titleOf(one)} ${one.nowDbm === null ? `not heard since ${clock(one.lastMs)}` : `${signed(levelOf(one))} dBm now`}`)
    .join(', ');
  return (
    <div className="air-time" ref={box}>
      <div className="air-filters">
        <Choice
          label="Time shown"
          value={windowS}
          options={WINDOWS.map(({ value, label }) => ({ value: value as number, label }))}
          onChoose={setWindow}
        />
        <span>{picked.length === 0 ? 'The five loudest; pick others in Networks or in the drawing.' : `${shown.length} picked`}</span>
        {gone.length > 0 && <span role="status">{`${gone.map((one) => `${titleOf(one)} not heard since ${clock(one.lastMs)}`).join('; ')}`}</span>}
      </div>
      {shown.length === 0 ? <p className="empty">Nothing was heard yet.</p> : <Chart option={option} label={`Level over time: ${words}`} />}
    </div>
  );
}
