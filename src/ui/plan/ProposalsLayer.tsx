'use client';
import type { SVGProps } from 'react';
import { cornersOnFloor, endsOnFloor } from '@/core/design/foundCommands';
import type { FoundWall } from '@/core/finding/wholes';
import { between } from '@/core/geometry/point';
import type { Drawing } from '@/core/design/design';
import { isIn, judge, useFinding } from '../stages/building/finding';
import { keyOnMark } from './marks';
import type { View } from '../state/sessionStore';
import { toScreen } from './view';

/** Walls found in a drawing and not yet drawn: dashed ink, heavier where they are rated better; dotted where they are out. Doors are gaps, windows thin lines. */
export function ProposalsLayer({ drawing, view }: { drawing: Drawing; view: View }) {
  const finding = useFinding();
  if (finding.found === null) return null;
  return (
    <g data-marks data-testid="proposals">
      {finding.found.walls.map((wall, index) => {
        const { a, b } = endsOnFloor(drawing, wall);
        const inside = isIn(finding, index);
        const lengthPx = Math.hypot(wall.bx - wall.ax, wall.by - wall.ay);
        const spotAt = (alongPx: number) => toScreen(view, between(a, b, alongPx / lengthPx));
        const line = (fromPx: number, toPx: number, look: SVGProps<SVGLineElement>) => {
          const [p, q] = [spotAt(fromPx), spotAt(toPx)];
          return <line key={fromPx} x1={p.x} y1={p.y} x2={q.x} y2={q.y} {...look} />;
        };
        const ink = inside
          ? { stroke: 'var(--ink)', strokeWidth: 1 + 2.4 * wall.confidence, strokeDasharray: '7 3' }
          : { stroke: 'var(--ink2)', strokeWidth: 1.2, strokeDasharray: '1 5' };
        const rating = Math.round(wall.confidence * 100);
        return (
          <g
            key={index}
            role="button"
            tabIndex={index === 0 ? 0 : -1}
            aria-pressed={inside}
            aria-label={`Found wall ${index + 1}, rated ${rating} of 100`}
            data-proposal={inside ? 'in' : 'out'}
            onKeyDown={(event) => keyOnMark(event, () => judge([index], !inside))}
          >
            {line(0, lengthPx, { stroke: 'transparent', strokeWidth: 12 })}
            {gapsBetween(wall).map(([from, to]) => line(from, to, ink))}
            {inside &&
              wall.openings
                .filter(({ kind }) => kind === 'window')
                .map(({ atPx, widthPx }) => line(atPx, atPx + widthPx, { stroke: 'var(--ink)', strokeWidth: 1 }))}
          </g>
        );
      })}
      {finding.found.fittings.map(({ kind, corners }, i) => {
        const index = finding.found!.walls.length + i;
        const inside = isIn(finding, index);
        const spots = cornersOnFloor(drawing, { kind, corners }).map((at) => toScreen(view, at));
        const [x, y] = [spots.reduce((sum, spot) => sum + spot.x, 0) / spots.length, spots.reduce((sum, spot) => sum + spot.y, 0) / spots.length];
        return (
          <g
            key={index}
            role="button"
            tabIndex={index === 0 ? 0 : -1}
            aria-pressed={inside}
            aria-label={`Found ${kind}`}
            data-proposal={inside ? 'in' : 'out'}
            onKeyDown={(event) => keyOnMark(event, () => judge([index], !inside))}
          >
            <path
              d={`M${spots.map((spot) => `${spot.x} ${spot.y}`).join('L')}Z`}
              fill={inside ? 'var(--paper)' : 'transparent'}
              fillOpacity={0.7}
              stroke={inside ? 'var(--ink)' : 'var(--ink2)'}
              strokeWidth={1.2}
              strokeDasharray={inside ? '7 3' : '1 5'}
            />
            <text x={x} y={y} textAnchor="middle" dominantBaseline="central" fontSize={11.5} fill="var(--ink)">
              {kind}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** What of a found wall lies between its openings. */
function gapsBetween({ ax, ay, bx, by, openings }: FoundWall): Array<readonly [from: number, to: number]> {
  const ends = [0, ...openings.flatMap(({ atPx, widthPx }) => [atPx, atPx + widthPx]), Math.hypot(bx - ax, by - ay)];
  return ends.flatMap((from, i) => (i % 2 === 0 ? [[from, ends[i + 1]!] as const] : []));
}
