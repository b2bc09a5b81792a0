'use client';
import { memo } from 'react';
import { leavesOf } from '@/core/building/leaves';
import { lossDbOf, type MaterialLookup, type WallPattern } from '@/core/building/material';
import { wallLengthM, type Wall } from '@/core/building/wall';
import type { Opening } from '@/core/design/design';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { signed } from '../state/format';
import { keyOnMark } from './marks';

/** Stroke of each pattern, in px, also in the legend: width and dashes. Weight follows loss. */
export const STROKES: Readonly<Record<WallPattern, { width: number; dash?: string }>> = {
  heavy: { width: 3.4 },
  double: { width: 5 },
  light: { width: 1.5 },
  dashes: { width: 1.8, dash: '9 4' },
  dots: { width: 3, dash: '2 2' },
  ticks: { width: 1.4 },
  leaf: { width: 0.8 },
};

type Piece = { from: number; to: number; opening: Opening | null };

/** A wall along its length: solid pieces and openings in turn. */
function piecesOf(wall: Wall, openings: readonly Opening[]): Piece[] {
  const length = wallLengthM(wall);
  const pieces: Piece[] = [];
  let at = 0;
  for (const opening of [...openings].sort((a, b) => a.atM - b.atM)) {
    const from = Math.min(1, Math.max(at, opening.atM / length));
    const to = Math.min(1, Math.max(from, (opening.atM + opening.widthM) / length));
    if (from > at) pieces.push({ from: at, to: from, opening: null });
    if (to > from) pieces.push({ from, to, opening });
    at = Math.max(at, to);
  }
  if (at < 1) pieces.push({ from: at, to: 1, opening: null });
  return pieces;
}

function Line({
  wall,
  from,
  to,
  width,
  dash,
  className,
  stroke = 'var(--ink)',
}: {
  wall: Wall;
  from: number;
  to: number;
  width: number;
  dash?: string | undefined;
  className?: string;
  stroke?: string;
}) {
  const x = (t: number) => wall.axM + (wall.bxM - wall.axM) * t;
  const y = (t: number) => wall.ayM + (wall.byM - wall.ayM) * t;
  return (
    <line
      className={className}
      x1={x(from)}
      y1={y(from)}
      x2={x(to)}
      y2={y(to)}
      stroke={stroke}
      strokeWidth={width}
      strokeDasharray={dash}
      vectorEffect="non-scaling-stroke"
      strokeLinecap={dash ? 'butt' : 'square'}
    />
  );
}

/** How far apart the lines of a window are drawn, in m: about as a wall is thick. */
const WINDOW_M = 0.09;

/** An opening as the trade draws it: a door's leaf and its quarter arc, three thin lines for a window, a gap for a passage, a rolled line for a shutter. */
function OpeningMark({
  wall,
  opening,
  from,
  to,
  selected,
  focusable,
  units,
  materials,
  onPick,
}: {
  wall: Wall;
  opening: Opening;
  from: number;
  to: number;
  selected: boolean;
  focusable: boolean;
  units: UnitSystem;
  materials: MaterialLookup;
  onPick: (table: 'walls' | 'openings', id: string) => void;
}) {
  const stroke = selected ? 'var(--hand)' : 'var(--ink)';
  const lengthM = wallLengthM(wall);
  const [ux, uy] = [(wall.bxM - wall.axM) / lengthM, (wall.byM - wall.ayM) / lengthM];
  const spot = (t: number, asideM = 0) => ({
    x: wall.axM + (wall.bxM - wall.axM) * t - uy * asideM,
    y: wall.ayM + (wall.byM - wall.ayM) * t + ux * asideM,
  });
  const piece = (asideM: number) => {
    const [p, q] = [spot(from, asideM), spot(to, asideM)];
    return `M${p.x} ${p.y}L${q.x} ${q.y}`;
  };
  const path = {
    door: () => doorPath(opening, spot, from, to, lengthM),
    window: () => piece(-WINDOW_M) + piece(0) + piece(WINDOW_M),
    passage: () => `${jamb(spot, from)}${jamb(spot, to)}`,
    shutter: () => piece(-WINDOW_M) + piece(WINDOW_M) + jamb(spot, from) + jamb(spot, to),
  }[opening.kind]();
  const label = `${opening.kind}, ${materials(opening.materialId).name}, ${formatLength(opening.widthM, units)} wide, ${signed(lossDbOf(materials(opening.materialId), '5'), 1)} dB at 5 GHz`;
  return (
    <g
      data-opening={opening.id}
      role={focusable ? 'button' : undefined}
      aria-label={focusable ? `${label[0]!.toUpperCase()}${label.slice(1)}` : undefined}
      aria-pressed={focusable ? selected : undefined}
      tabIndex={focusable ? -1 : undefined}
      onKeyDown={(event) => keyOnMark(event, () => onPick('openings', opening.id))}
    >
      {focusable && <Line wall={wall} from={from} to={to} width={14} stroke="transparent" />}
      <path
        d={path}
        fill="none"
        stroke={stroke}
        strokeWidth={selected ? 1.8 : 1}
        strokeDasharray={opening.kind === 'shutter' ? '3 2' : undefined}
        vectorEffect="non-scaling-stroke"
      />
    </g>
  );
}

type SpotAt = (t: number, asideM?: number) => { x: number; y: number };

function jamb(spot: SpotAt, t: number): string {
  const [p, q] = [spot(t, -WINDOW_M), spot(t, WINDOW_M)];
  return `M${p.x} ${p.y}L${q.x} ${q.y}`;
}

/** Its leaves, open by a quarter turn about their hinges, and the arcs they sweep. */
function doorPath({ hinge, swing }: Opening, spot: SpotAt, from: number, to: number, lengthM: number): string {
  // The right of the way from A to B is the positive side, for y runs down the plan.
  const side = swing === 'right' ? 1 : -1;
  return leavesOf({ atM: from * lengthM, widthM: (to - from) * lengthM, hinge })
    .map(({ atM, way, widthM }) => {
      const hung = atM / lengthM;
      const [pivot, open, shut] = [spot(hung), spot(hung, side * widthM), spot((atM + way * widthM) / lengthM)];
      const clockwise = way * side < 0 ? 1 : 0;
      return `M${pivot.x} ${pivot.y}L${open.x} ${open.y}A${widthM} ${widthM} 0 0 ${clockwise} ${shut.x} ${shut.y}`;
    })
    .join('');
}

const WallMark = memo(function WallMark({
  wall,
  openings,
  selected,
  selectedIds,
  focusable,
  tabStop,
  units,
  materials,
  onPick,
}: {
  wall: Wall;
  openings: readonly Opening[];
  selected: boolean;
  /** Openings of this wall that are selected; the same empty list where none is, so that the wall is not drawn again. */
  selectedIds: readonly string[];
  focusable: boolean;
  tabStop: boolean;
  units: UnitSystem;
  materials: MaterialLookup;
  onPick: (table: 'walls' | 'openings', id: string) => void;
}) {
  const material = materials(wall.materialId);
  const { pattern, name } = material;
  const low = wall.topM < 2.6 && wall.baseM === 0;
  const { width, dash } = STROKES[pattern];
  const stroke = selected ? 'var(--hand)' : 'var(--ink)';
  const label = `Wall, ${name}, ${formatLength(wallLengthM(wall), units, 1)}, ${signed(lossDbOf(material, '5'), 1)} dB at 5 GHz`;
  const pieces = piecesOf(wall, openings);
  // An opening stands beside its wall and not in it: a button in a button could not be told apart.
  return (
    <>
      <g
        data-wall={wall.id}
        role={focusable ? 'button' : undefined}
        aria-label={focusable ? label : undefined}
        aria-pressed={focusable ? selected : undefined}
        tabIndex={focusable ? (tabStop ? 0 : -1) : undefined}
        onKeyDown={(event) => keyOnMark(event, () => onPick('walls', wall.id))}
        opacity={low ? 0.75 : 1}
      >
        {focusable && <Line wall={wall} from={0} to={1} width={12} stroke="transparent" />}
        {pieces.map(
          ({ from, to, opening }) =>
            opening === null && (
              <g key={from}>
                <Line wall={wall} from={from} to={to} width={low ? Math.min(width, 1.6) : width} dash={dash} stroke={stroke} />
                {pattern === 'double' && !low && <Line wall={wall} from={from} to={to} width={2.2} stroke="var(--paper)" />}
                {pattern === 'ticks' && <Line wall={wall} from={from} to={to} width={5} dash="1 7" stroke={stroke} />}
              </g>
            ),
        )}
      </g>
      {pieces.map(
        ({ from, to, opening }) =>
          opening !== null && (
            <OpeningMark
              key={opening.id}
              wall={wall}
              opening={opening}
              from={from}
              to={to}
              selected={selected || selectedIds.includes(opening.id)}
              focusable={focusable}
              units={units}
              materials={materials}
              onPick={onPick}
            />
          ),
      )}
    </>
  );
});

/** Walls as ink lines whose weight follows loss and whose pattern tells the material; openings are gaps. */
export const WallsLayer = memo(function WallsLayer({
  walls,
  openings,
  selectedIds,
  focusable,
  units,
  materials,
  onPick,
}: {
  walls: readonly Wall[];
  openings: readonly Opening[];
  selectedIds: readonly string[];
  focusable: boolean;
  units: UnitSystem;
  materials: MaterialLookup;
  onPick: (table: 'walls' | 'openings', id: string) => void;
}) {
  const byWall = new Map<string, Opening[]>();
  for (const opening of openings) byWall.set(opening.wallId, [...(byWall.get(opening.wallId) ?? []), opening]);
  const selected = new Set(selectedIds);
  const stop = walls.find(({ id }) => selected.has(id)) ?? walls[0];
  return (
    <g data-marks>
      {walls.map((wall) => (
        <WallMark
          key={wall.id}
          wall={wall}
          openings={byWall.get(wall.id) ?? NONE}
          selected={selected.has(wall.id)}
          selectedIds={byWall.get(wall.id)?.some(({ id }) => selected.has(id)) ? selectedIds : NO_IDS}
          focusable={focusable}
          tabStop={wall === stop}
          units={units}
          materials={materials}
          onPick={onPick}
        />
      ))}
    </g>
  );
});

const NONE: readonly Opening[] = [];
const NO_IDS: readonly string[] = [];
