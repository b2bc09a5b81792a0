'use client';
import { cornersOf, type AreaTable } from '@/core/design/areaCommands';
import { onFloor, type Design } from '@/core/design/design';
import { floorBelow } from '@/core/design/floorCommands';
import type { Pair } from '@/core/geometry/similarity';
import { arcThrough, circleThrough } from '@/core/geometry/arc';
import { chainMeasures } from '@/core/geometry/chain';
import { distanceM, type PointM } from '@/core/geometry/point';
import type { Snapped } from '@/core/geometry/snap';
import { formatArea, formatLength, type UnitSystem } from '@/core/units/length';
import { useViewDesign, type Place } from '../state/selectors';
import type { View } from '../state/sessionStore';
import type { Line } from './tools/machine';
import type { Selection } from '../state/types';
import { angleOfDeg } from './tools/typed';
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

const regionCorners = (design: Design, table: AreaTable, id: string): PointM[] => {
  const area = design[table][id];
  return area === undefined ? [] : cornersOf(area);
};

/** The corners of the selected area, to be dragged. */
export function AreaCorners({ design, selection, view }: { design: Design; selection: Selection; view: View }) {
  if (selection?.table !== 'zones' && selection?.table !== 'slabOpenings') return null;
  return (
    <g pointerEvents="none">
      {selection.ids.flatMap((id) =>
        regionCorners(design, selection.table as 'zones', id).map((corner, i) => {
          const { x, y } = toScreen(view, corner);
          return <circle key={`${id}/${i}`} cx={x} cy={y} r={5} fill="var(--panel)" stroke="var(--hand)" strokeWidth={2} />;
        }),
      )}
    </g>
  );
}

/** The walls of the floor below, while a floor is laid over it. */
export function GhostWalls({ design, floorId }: { design: Design; floorId: string }) {
  const below = floorBelow(design, floorId);
  if (below === null) return null;
  const path = onFloor(design, 'walls', below.id)
    .map(({ axM, ayM, bxM, byM }) => `M${axM} ${ayM}L${bxM} ${byM}`)
    .join('');
  return (
    <path
      d={path}
      fill="none"
      stroke="var(--ink2)"
      strokeWidth={1.4}
      strokeDasharray="6 3"
      vectorEffect="non-scaling-stroke"
      pointerEvents="none"
      data-testid="ghost"
    />
  );
}

/** Pairs of common points as numbered crosses, joined by what lies between them. */
export function PairsLayer({ pairs, view }: { pairs: readonly Pair[]; view: View }) {
  return (
    <g pointerEvents="none" stroke="var(--hand)" strokeWidth={1.5}>
      {pairs.map(({ from, to }, i) => {
        const [a, b] = [toScreen(view, from), toScreen(view, to)];
        return (
          <g key={i}>
            <path
              d={`M${a.x - 6} ${a.y}H${a.x + 6}M${a.x} ${a.y - 6}V${a.y + 6}M${a.x} ${a.y}L${b.x} ${b.y}M${b.x - 4} ${b.y - 4}L${b.x + 4} ${b.y + 4}M${b.x - 4} ${b.y + 4}L${b.x + 4} ${b.y - 4}`}
            />
            <text x={a.x + 8} y={a.y - 6} fontSize={11.5} fill="var(--hand)" strokeWidth={3} stroke="var(--paper)" paintOrder="stroke">
              {i + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** What is said of a chain that is measured. */
function measured(spots: readonly PointM[], units: UnitSystem): string {
  const { totalM, lastM, angleDeg, areaM2 } = chainMeasures(spots);
  if (areaM2 !== null) return `around ${formatLength(totalM, units)}, area ${formatArea(areaM2, units)}`;
  // The pointer resting on the last corner begins no leg.
  if (spots.length < 3 || lastM === 0) return formatLength(totalM, units);
  return `${formatLength(lastM, units)}${angleDeg === null ? '' : ` at ${angleDeg.toFixed(1)}°`}, in all ${formatLength(totalM, units)}`;
}

/** A line being drawn, with its length and direction, or a box with its sides and area. */
export function DrawnLine({ line, view, units }: { line: Line; view: View; units: UnitSystem }) {
  // The third spot of an arc lies on it.
  const over = line.shape === 'arc' && line.corners?.[1] !== undefined ? line.toM : null;
  // What is said of an arc stands at its chord.
  const a = toScreen(view, over === null ? line.fromM : line.corners![0]!);
  const b = toScreen(view, over === null ? line.toM : line.corners![1]!);
  const dash = line.dashed ? '5 3' : undefined;
  const [wideM, deepM] = [Math.abs(line.toM.xM - line.fromM.xM), Math.abs(line.toM.yM - line.fromM.yM)];
  const length = formatLength(distanceM(line.fromM, line.toM), units);
  const circle = over === null ? null : circleThrough(line.corners![0]!, line.corners![1]!, over);
  const through = over === null ? [...(line.corners ?? [line.fromM]), line.toM] : arcThrough(line.corners![0]!, line.corners![1]!, over);
  const label =
    line.shape === 'box'
      ? `${formatLength(wideM, units)} × ${formatLength(deepM, units)}, ${formatArea(wideM * deepM, units)}`
      : over !== null
        ? circle === null
          ? 'straight'
          : `radius ${formatLength(circle.radiusM, units)}`
        : line.dashed
          ? measured(through, units)
          : `${length}, ${angleOfDeg(line).toFixed(1)}°`;
  return (
    <g pointerEvents="none">
      {line.shape === 'box' ? (
        <rect
          x={Math.min(a.x, b.x)}
          y={Math.min(a.y, b.y)}
          width={Math.abs(b.x - a.x)}
          height={Math.abs(b.y - a.y)}
          fill="none"
          stroke="var(--hand)"
          strokeWidth={2}
        />
      ) : (
        <polyline
          points={through.map((at) => Object.values(toScreen(view, at)).join()).join(' ')}
          fill="none"
          stroke="var(--hand)"
          strokeWidth={2}
          strokeDasharray={dash}
        />
      )}
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

/** Where a click would fall, and what it is drawn to. */
export function SnapSpot({ snapped, view }: { snapped: Snapped; view: View }) {
  const { x, y } = toScreen(view, snapped.at);
  if (snapped.mark === 'grid') return <path d={`M${x - 4} ${y}H${x + 4}M${x} ${y - 4}V${y + 4}`} stroke="var(--hand)" pointerEvents="none" />;
  return (
    <g pointerEvents="none" stroke="var(--hand)" fill="none" strokeWidth={1.5}>
      {snapped.mark === 'end' || snapped.mark === 'crossing' ? (
        <rect x={x - 4.5} y={y - 4.5} width={9} height={9} />
      ) : snapped.mark === 'square' ? (
        <path d={`M${x - 5} ${y - 5}V${y + 5}H${x + 5}M${x - 5} ${y}H${x}V${y + 5}`} />
      ) : (
        <path d={`M${x - 4} ${y - 4}L${x + 4} ${y + 4}M${x - 4} ${y + 4}L${x + 4} ${y - 4}`} />
      )}
      <text x={x + 9} y={y + 15} fontSize={11.5} fill="var(--hand)" stroke="var(--paper)" strokeWidth={3} paintOrder="stroke" data-testid="snap-mark">
        {snapped.mark}
      </text>
    </g>
  );
}

/** The box that picks what lies in it. */
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
