'use client';
import { memo } from 'react';
import type { Walk } from '@/core/design/design';
import type { PointM } from '@/core/geometry/point';
import type { MeasuredSpot } from '@/core/survey/measured';
import { lensOf } from '@/core/fields/lenses';
import type { View } from '../state/sessionStore';
import { RAMP_STOPS, type RampName } from '../theme/tokens';
import { toScreen } from './view';

/** A level's ink, as the map has it. */
function inkOf(levelDbm: number, ramp: RampName, mode: 'light' | 'dark'): string {
  const stops = RAMP_STOPS[ramp][mode];
  const { from, to } = lensOf('signal').scale;
  return `#${stops[Math.min(stops.length - 1, Math.max(0, Math.round(((levelDbm - from) / (to - from)) * (stops.length - 1))))]!}`;
}

/** A walk: a thin line with ticks in its direction, gaps dotted, small squares filled by level, and where the walker is. */
export const WalkLayer = memo(function WalkLayer({
  walk,
  spots,
  walker,
  view,
  ramp,
  mode,
}: {
  walk: Walk;
  spots: readonly MeasuredSpot[];
  walker: PointM | null;
  view: View;
  ramp: RampName;
  mode: 'light' | 'dark';
}) {
  const px = (p: PointM) => toScreen(view, p);
  return (
    <g pointerEvents="none" role="img" aria-label={`${walk.name}: ${walk.legs.length} legs, ${spots.length} measured spots`} data-testid="walk">
      {walk.legs.map((leg, index) => {
        const points = leg.turns.map(px);
        const before = walk.legs[index - 1]?.turns.at(-1);
        const gapFrom = before ? px(before) : null;
        return (
          <g key={index}>
            {gapFrom && points[0] && (
              <line
                x1={gapFrom.x}
                y1={gapFrom.y}
                x2={points[0].x}
                y2={points[0].y}
                stroke="var(--ink)"
                strokeWidth={1.4}
                strokeDasharray="1 5"
                strokeLinecap="round"
                data-testid="gap"
              />
            )}
            <polyline points={points.map((p) => `${p.x},${p.y}`).join(' ')} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
            {points.map((p, i) => {
              const next = points[i + 1];
              const stands = next !== undefined && next.x === p.x && next.y === p.y;
              const angle = next ? (Math.atan2(next.y - p.y, next.x - p.x) * 180) / Math.PI : 0;
              return (
                <g key={i}>
                  <circle cx={p.x} cy={p.y} r={3.2} fill="var(--panel)" stroke="var(--ink)" strokeWidth={1.2} />
                  {stands && <circle cx={p.x} cy={p.y} r={8} fill="none" stroke="var(--ink)" strokeWidth={1.6} />}
                  {next && !stands && (
                    <path
                      d="M-4 -4 L2 0 L-4 4"
                      transform={`translate(${(p.x + next.x) / 2} ${(p.y + next.y) / 2}) rotate(${angle})`}
                      fill="none"
                      stroke="var(--ink)"
                      strokeWidth={1.4}
                    />
                  )}
                </g>
              );
            })}
          </g>
        );
      })}
      {spots.map((spot, i) => {
        const p = px(spot);
        return (
          <rect key={i} x={p.x - 4} y={p.y - 4} width={8} height={8} fill={inkOf(spot.levelDbm, ramp, mode)} stroke="var(--ink)" strokeWidth={0.9} />
        );
      })}
      {walker && (
        <g transform={`translate(${px(walker).x} ${px(walker).y})`}>
          <circle r={9} fill="none" stroke="var(--hand)" strokeWidth={2} />
          <circle r={3.4} fill="var(--hand)" />
        </g>
      )}
    </g>
  );
});
