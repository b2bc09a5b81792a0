'use client';
import { memo } from 'react';
import { materialLossDb, materialOf, type WallPattern } from '@/core/building/material';
import { wallLengthM, type Opening, type Wall } from '@/core/building/wall';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { signed } from '../state/format';

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

const WallMark = memo(function WallMark({
  wall,
  openings,
  selected,
  focusable,
  tabStop,
  units,
  onPick,
}: {
  wall: Wall;
  openings: readonly Opening[];
  selected: boolean;
  focusable: boolean;
  tabStop: boolean;
  units: UnitSystem;
  onPick: (id: string) => void;
}) {
  const { pattern, name } = materialOf(wall.materialId);
  const low = wall.topM < 2.6 && wall.baseM === 0;
  const { width, dash } = STROKES[pattern];
  const stroke = selected ? 'var(--hand)' : 'var(--ink)';
  const label = `Wall, ${name}, ${formatLength(wallLengthM(wall), units, 1)}, ${signed(materialLossDb(wall.materialId, '5'), 1)} dB at 5 GHz`;
  return (
    <g
      data-wall={wall.id}
      role={focusable ? 'button' : undefined}
      aria-label={focusable ? label : undefined}
      aria-pressed={focusable ? selected : undefined}
      tabIndex={focusable ? (tabStop ? 0 : -1) : undefined}
      onKeyDown={(event) => {
        const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
        if (step !== undefined) {
          // One tab stop for all walls; arrows go from one to the next.
          const walls = [...event.currentTarget.parentElement!.querySelectorAll<SVGElement>('[data-wall]')];
          walls.at((walls.indexOf(event.currentTarget) + step) % walls.length)?.focus();
        } else if (event.key === 'Enter' || event.key === ' ') onPick(wall.id);
        else return;
        event.preventDefault();
      }}
      opacity={low ? 0.75 : 1}
    >
      {focusable && <Line wall={wall} from={0} to={1} width={12} stroke="transparent" />}
      {piecesOf(wall, openings).map(({ from, to, opening }) =>
        opening === null ? (
          <g key={from}>
            <Line wall={wall} from={from} to={to} width={low ? Math.min(width, 1.6) : width} dash={dash} stroke={stroke} />
            {pattern === 'double' && !low && <Line wall={wall} from={from} to={to} width={2.2} stroke="var(--paper)" />}
            {pattern === 'ticks' && <Line wall={wall} from={from} to={to} width={5} dash="1 7" stroke={stroke} />}
          </g>
        ) : (
          // A gap with the leaf drawn lightly: a window keeps a thin line, a door too, a passage nothing.
          opening.kind !== 'passage' && (
            <Line key={from} wall={wall} from={from} to={to} width={1} dash={opening.kind === 'door' ? '2 2' : undefined} stroke={stroke} />
          )
        ),
      )}
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
  onPick,
}: {
  walls: readonly Wall[];
  openings: readonly Opening[];
  selectedIds: readonly string[];
  focusable: boolean;
  units: UnitSystem;
  onPick: (id: string) => void;
}) {
  const byWall = new Map<string, Opening[]>();
  for (const opening of openings) byWall.set(opening.wallId, [...(byWall.get(opening.wallId) ?? []), opening]);
  const stop = walls.find(({ id }) => selectedIds.includes(id)) ?? walls[0];
  return (
    <g>
      {walls.map((wall) => (
        <WallMark
          key={wall.id}
          wall={wall}
          openings={byWall.get(wall.id) ?? NONE}
          selected={selectedIds.includes(wall.id)}
          focusable={focusable}
          tabStop={wall === stop}
          units={units}
          onPick={onPick}
        />
      ))}
    </g>
  );
});

const NONE: readonly Opening[] = [];
