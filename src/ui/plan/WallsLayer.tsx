'use client';
import { memo, useMemo } from 'react';
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

/** What is hit by the pointer and takes the keys: it is not painted, so that thousands of walls cost nothing while the plan moves. */
const hit = (widthPx: number) =>
  ({ stroke: 'none', strokeWidth: widthPx, pointerEvents: 'stroke', vectorEffect: 'non-scaling-stroke', fill: 'none' }) as const;

/** Part of a wall as a path, in m. */
function pathAlong({ axM, ayM, bxM, byM }: Wall, from: number, to: number): string {
  const x = (t: number) => axM + (bxM - axM) * t;
  const y = (t: number) => ayM + (byM - ayM) * t;
  return `M${x(from)} ${y(from)}L${x(to)} ${y(to)}`;
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
      {focusable && <path d={pathAlong(wall, from, to)} {...hit(14)} />}
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

/** A wall as it is picked: by the pointer, by keys, by its name. Its ink is drawn with that of its likes, unless it is selected. */
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
  // An opening stands beside its wall and not in it: a button in a button could not be told apart.
  return (
    <>
      {focusable && (
        <path
          data-wall={wall.id}
          role="button"
          aria-label={`Wall, ${material.name}, ${formatLength(wallLengthM(wall), units, 1)}, ${signed(lossDbOf(material, '5'), 1)} dB at 5 GHz`}
          aria-pressed={selected}
          tabIndex={tabStop ? 0 : -1}
          onKeyDown={(event) => keyOnMark(event, () => onPick('walls', wall.id))}
          d={pathAlong(wall, 0, 1)}
          {...hit(12)}
        />
      )}
      {openings.length > 0 &&
        piecesOf(wall, openings).map(
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

/** How a wall is inked: by its material's pattern, lighter where it is low, in the hand's colour where it is selected. */
type Ink = Readonly<{ pattern: WallPattern; low: boolean; selected: boolean }>;

const isLow = ({ baseM, topM }: Wall): boolean => topM < 2.6 && baseM === 0;

/** Walls of one ink as one path: the fewer things are drawn, the smoother the plan moves. */
const InkLayer = memo(function InkLayer({ pattern, low, selected, path }: Ink & { path: string }) {
  const { width, dash } = STROKES[pattern];
  const stroke = selected ? 'var(--hand)' : 'var(--ink)';
  const line = (strokeWidth: number, strokeDasharray: string | undefined, color = stroke) => (
    <path
      d={path}
      fill="none"
      stroke={color}
      strokeWidth={strokeWidth}
      strokeDasharray={strokeDasharray}
      strokeLinecap={strokeDasharray === undefined ? 'square' : 'butt'}
      vectorEffect="non-scaling-stroke"
    />
  );
  return (
    <g opacity={low ? 0.75 : 1} pointerEvents="none">
      {line(low ? Math.min(width, 1.6) : width, dash)}
      {pattern === 'double' && !low && line(2.2, undefined, 'var(--paper)')}
      {pattern === 'ticks' && line(5, '1 7')}
    </g>
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
  const byWall = useMemo(() => {
    const found = new Map<string, Opening[]>();
    for (const opening of openings) found.set(opening.wallId, [...(found.get(opening.wallId) ?? []), opening]);
    return found;
  }, [openings]);
  const selected = useMemo(() => new Set(selectedIds), [selectedIds]);
  const inks = useMemo(() => {
    const paths = new Map<string, Ink & { parts: string[] }>();
    for (const wall of walls) {
      const ink: Ink = { pattern: materials(wall.materialId).pattern, low: isLow(wall), selected: selected.has(wall.id) };
      const key = `${ink.selected ? 'selected' : ''} ${ink.low ? 'low' : ''} ${ink.pattern}`;
      const parts = paths.get(key)?.parts ?? [];
      paths.set(key, { ...ink, parts });
      for (const { from, to, opening } of piecesOf(wall, byWall.get(wall.id) ?? NONE)) if (opening === null) parts.push(pathAlong(wall, from, to));
    }
    // What is selected lies on top.
    return [...paths].sort(([, p], [, q]) => Number(p.selected) - Number(q.selected));
  }, [walls, byWall, selected, materials]);
  const stop = walls.find(({ id }) => selected.has(id)) ?? walls[0];
  return (
    <g data-marks>
      {inks.map(([key, { pattern, low, selected: isSelected, parts }]) => (
        <InkLayer key={key} pattern={pattern} low={low} selected={isSelected} path={parts.join('')} />
      ))}
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
