'use client';
import { memo, useState } from 'react';
import { edit } from '@/core/design/commands';
import type { Walk } from '@/core/design/design';
import type { PointM } from '@/core/geometry/point';
import { movedTurn, withoutTurn, type Leg } from '@/core/survey/walk';
import type { MeasuredSpot } from '@/core/survey/measured';
import { lensOf, type LensId } from '@/core/fields/lenses';
import { useDocument } from '../state/documentStore';
import type { View } from '../state/sessionStore';
import { RAMP_STOPS, rampOf, type RampName } from '../theme/tokens';
import { toPlan, toScreen } from './view';

/** A level's ink, as the map of a lens has it. */
function inkOf(levelDbm: number, lens: LensId, ramp: RampName, mode: 'light' | 'dark'): string {
  const shown = lensOf(lens);
  const stops = RAMP_STOPS[rampOf(ramp, shown)][mode];
  const { from, to } = shown.scale;
  return `#${stops[Math.min(stops.length - 1, Math.max(0, Math.round(((levelDbm - from) / (to - from)) * (stops.length - 1))))]!}`;
}

/** Steps of the arrow keys, in m: with Shift the longer one. */
const STEP_M = { plain: 0.1, shift: 1 } as const;

/** The walk with the turn that is being dragged where it is dragged to, and what makes a turn draggable. */
function useDraggedTurn(asStored: Walk, view: View, editable: boolean) {
  const [dragged, setDragged] = useState<readonly Leg[] | null>(null);
  if (!editable) return { walk: asStored, drag: null };
  const { legs } = asStored;
  const onTurns = (title: string, next: readonly Leg[]): unknown =>
    useDocument.getState().run(title, (design) => edit(design, 'walks', asStored.id, { legs: next }));
  const drag = (leg: number, turn: number) => {
    const at = legs[leg]!.turns[turn]!;
    return {
      role: 'button',
      tabIndex: 0,
      'aria-label': `Turn ${turn + 1} of leg ${leg + 1} at ${at.xM.toFixed(1)}, ${at.yM.toFixed(1)} m: arrow keys move it, Delete takes it away`,
      onPointerDown: (event: React.PointerEvent<SVGCircleElement>) => {
        // Fingers move the plan and pin spots, also over a turn.
        if (event.button !== 0 || event.pointerType === 'touch') return;
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        setDragged(legs);
      },
      onPointerMove: (event: React.PointerEvent<SVGCircleElement>) => {
        if (dragged === null) return;
        const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
        setDragged(movedTurn(legs, leg, turn, toPlan(view, event.clientX - box.left, event.clientY - box.top)));
      },
      onPointerUp: () => {
        if (dragged !== null && dragged !== legs) onTurns('Move a turn of a walk', dragged);
        setDragged(null);
      },
      onPointerCancel: () => setDragged(null),
      onKeyDown: (event: React.KeyboardEvent) => {
        const by = event.shiftKey ? STEP_M.shift : STEP_M.plain;
        const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key] ?? [0, 0];
        if (event.key === 'Escape') setDragged(null);
        else if (event.key === 'Delete' || event.key === 'Backspace') onTurns('Take a turn of a walk away', withoutTurn(legs, leg, turn));
        else if (dx !== 0 || dy !== 0) onTurns('Move a turn of a walk', movedTurn(legs, leg, turn, { xM: at.xM + dx!, yM: at.yM + dy! }));
        else return;
        event.preventDefault();
        event.stopPropagation();
      },
    };
  };
  return { walk: dragged === null ? asStored : { ...asStored, legs: dragged }, drag };
}

/** A walk: a thin line with ticks in its direction, gaps dotted, small squares filled by level, and where the walker is. */
export const WalkLayer = memo(function WalkLayer({
  walk: asStored,
  spots,
  walker,
  view,
  lens,
  ramp,
  mode,
  editable,
}: {
  walk: Walk;
  spots: readonly MeasuredSpot[];
  walker: PointM | null;
  view: View;
  /** By whose scale the spots are inked. */
  lens: LensId;
  ramp: RampName;
  mode: 'light' | 'dark';
  /** Whether its turns may be moved and taken away. */
  editable: boolean;
}) {
  const { walk, drag } = useDraggedTurn(asStored, view, editable);
  const px = (p: PointM) => toScreen(view, p);
  return (
    <g
      pointerEvents="none"
      role={editable ? 'group' : 'img'}
      aria-label={`${walk.name}: ${walk.legs.length} legs, ${spots.length} measured spots`}
      data-testid="walk"
    >
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
                  {drag !== null && <circle cx={p.x} cy={p.y} r={9} className="turn" {...drag(index, i)} />}
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
          <rect
            key={i}
            x={p.x - 4}
            y={p.y - 4}
            width={8}
            height={8}
            fill={inkOf(spot.levelDbm, lens, ramp, mode)}
            stroke="var(--ink)"
            strokeWidth={0.9}
          />
        );
      })}
      {walker && (
        <g data-testid="walker" transform={`translate(${px(walker).x} ${px(walker).y})`}>
          <circle r={9} fill="none" stroke="var(--hand)" strokeWidth={2} />
          <circle r={3.4} fill="var(--hand)" />
        </g>
      )}
    </g>
  );
});
