'use client';
import { useDocument } from '../state/documentStore';
import type { View } from '../state/sessionStore';
import { routeFor, useRoute } from '../stages/survey/route';
import { toScreen } from './view';

/** A suggested walk: a pencilled line with its beginning, its end and arrows on longer pieces. */
export function RouteLayer({ floorId, view }: { floorId: string; view: View }) {
  const state = useRoute();
  const projectId = useDocument((s) => s.projectId);
  const route = routeFor(state, projectId, floorId);
  if (route === null || route.turns.length === 0) return null;
  const points = route.turns.map((turn) => toScreen(view, turn));
  const [first, last] = [points[0]!, points.at(-1)!];
  return (
    <g pointerEvents="none" role="img" aria-label={`Suggested route past ${route.stops} stops`} data-testid="route-line">
      <polyline points={points.map(({ x, y }) => `${x},${y}`).join(' ')} fill="none" stroke="var(--panel)" strokeWidth={4} strokeOpacity={0.7} />
      <polyline points={points.map(({ x, y }) => `${x},${y}`).join(' ')} fill="none" stroke="var(--hand)" strokeWidth={1.6} strokeDasharray="7 4" />
      {points.slice(1).map((to, i) => {
        const from = points[i]!;
        if (Math.hypot(to.x - from.x, to.y - from.y) < 34) return null;
        const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
        return (
          <path
            key={i}
            d="M-4 -4 L3 0 L-4 4"
            transform={`translate(${(from.x + to.x) / 2} ${(from.y + to.y) / 2}) rotate(${angle})`}
            fill="none"
            stroke="var(--hand)"
            strokeWidth={1.6}
          />
        );
      })}
      <circle cx={first.x} cy={first.y} r={6} fill="var(--panel)" stroke="var(--hand)" strokeWidth={2} />
      <rect x={last.x - 5} y={last.y - 5} width={10} height={10} fill="var(--hand)" />
    </g>
  );
}
