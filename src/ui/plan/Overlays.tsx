'use client';
import type { PointM } from '@/core/geometry/point';
import { useViewDesign, type Place } from '../state/selectors';
import type { View } from '../state/sessionStore';
import type { Line } from './tools/machine';
import { toScreen } from './view';

/** The handles at the ends of the selected wall. */
export function WallEnds({ place, view, id }: { place: Place; view: View; id: string | undefined }) {
  const wall = useViewDesign().walls[id ?? ''];
  if (wall === undefined || wall.floorId !== place.floor.id) return null;
  return (
    <g pointerEvents="none">
      {[
        { xM: wall.axM, yM: wall.ayM },
        { xM: wall.bxM, yM: wall.byM },
      ].map((end, i) => {
        const p = toScreen(view, end);
        return <circle key={i} cx={p.x} cy={p.y} r={5} fill="var(--panel)" stroke="var(--hand)" strokeWidth={2} />;
      })}
    </g>
  );
}

/** A line being drawn, with its length. */
export function DrawnLine({ line, view, label }: { line: Line; view: View; label: string }) {
  const a = toScreen(view, line.fromM);
  const b = toScreen(view, line.toM);
  return (
    <g pointerEvents="none">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--hand)" strokeWidth={2} strokeDasharray={line.dashed ? '5 3' : undefined} />
      <text
        className="mono"
        x={(a.x + b.x) / 2}
        y={(a.y + b.y) / 2 - 7}
        textAnchor="middle"
        fill="var(--hand)"
        stroke="var(--paper)"
        strokeWidth={3}
        paintOrder="stroke"
        data-testid="rubber-length"
      >
        {label}
      </text>
    </g>
  );
}

/** The box that picks access points. */
export function Marquee({ marquee, view }: { marquee: { fromM: PointM; toM: PointM }; view: View }) {
  const a = toScreen(view, marquee.fromM);
  const b = toScreen(view, marquee.toM);
  return (
    <rect
      x={Math.min(a.x, b.x)}
      y={Math.min(a.y, b.y)}
      width={Math.abs(b.x - a.x)}
      height={Math.abs(b.y - a.y)}
      fill="var(--hand)"
      fillOpacity={0.08}
      stroke="var(--hand)"
      strokeDasharray="4 3"
    />
  );
}
