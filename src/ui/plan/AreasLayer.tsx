'use client';
import { memo } from 'react';
import type { SlabOpening, Zone } from '@/core/design/design';
import type { AreaTable } from '@/core/design/areaCommands';
import { keyOnMark } from './marks';
import { regionPath } from './paths';

/** How the edge of each kind of area is drawn, in px. */
const EDGE = {
  room: { width: 1, dash: '1 4' },
  service: { width: 1.4, dash: '10 3 2 3' },
  'keep-out': { width: 1.4, dash: '4 3' },
  clutter: { width: 1, dash: '2 2' },
  electronics: { width: 1.2, dash: '6 2 1 2' },
  'slab opening': { width: 1.4, dash: '7 4' },
} as const;
const WORD = {
  room: 'Room',
  service: 'Service zone',
  'keep-out': 'Keep-out zone',
  clutter: 'Clutter',
  electronics: 'Electronics',
  'slab opening': 'Slab opening',
} as const;

/** The areas of a floor in Building: edges by kind, keep-out hatched, clutter dotted, electronics in waves, a slab's opening crossed through as on any drawing. */
export const AreasLayer = memo(function AreasLayer({
  zones,
  slabOpenings,
  selectedIds,
  onPick,
}: {
  zones: readonly Zone[];
  slabOpenings: readonly SlabOpening[];
  selectedIds: readonly string[];
  onPick: (table: AreaTable, id: string) => void;
}) {
  return (
    <g data-marks>
      <defs>
        <pattern id="keep-out" width={0.6} height={0.6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1={0} y1={0} x2={0} y2={0.6} stroke="var(--ink2)" strokeWidth={0.05} />
        </pattern>
        <pattern id="clutter" width={0.7} height={0.7} patternUnits="userSpaceOnUse" patternTransform="rotate(20)">
          <circle cx={0.2} cy={0.2} r={0.07} fill="var(--ink2)" />
        </pattern>
        <pattern id="electronics" width={0.8} height={0.5} patternUnits="userSpaceOnUse">
          <path d="M0 0.25q0.2 -0.2 0.4 0t0.4 0" fill="none" stroke="var(--ink2)" strokeWidth={0.05} />
        </pattern>
      </defs>
      {zones.map((zone) => (
        <Area key={zone.id} table="zones" kind={zone.kind} area={zone} selected={selectedIds.includes(zone.id)} onPick={onPick} />
      ))}
      {slabOpenings.map((hole) => (
        <Area key={hole.id} table="slabOpenings" kind="slab opening" area={hole} selected={selectedIds.includes(hole.id)} onPick={onPick} />
      ))}
    </g>
  );
});

function Area({
  table,
  kind,
  area,
  selected,
  onPick,
}: {
  table: AreaTable;
  kind: keyof typeof EDGE;
  area: Zone | SlabOpening;
  selected: boolean;
  onPick: (table: AreaTable, id: string) => void;
}) {
  const { width, dash } = EDGE[kind];
  const path = regionPath(area);
  const mark = table === 'zones' ? { 'data-zone': area.id } : { 'data-slab-opening': area.id };
  const [a, b] = [area.polygon[0]!, area.polygon[Math.floor(area.polygon.length / 2)]!];
  return (
    <>
      {(kind === 'keep-out' || kind === 'clutter' || kind === 'electronics') && (
        <path d={path} fill={`url(#${kind})`} fillRule="evenodd" pointerEvents="none" />
      )}
      {kind === 'slab opening' && (
        <path d={`M${a.xM} ${a.yM}L${b.xM} ${b.yM}`} stroke="var(--ink2)" strokeWidth={0.8} vectorEffect="non-scaling-stroke" pointerEvents="none" />
      )}
      <g
        {...mark}
        role="button"
        tabIndex={selected ? 0 : -1}
        aria-label={`${WORD[kind]}, ${area.name}`}
        aria-pressed={selected}
        onKeyDown={(event) => keyOnMark(event, () => onPick(table, area.id))}
      >
        <path d={path} fill="none" stroke="transparent" strokeWidth={10} vectorEffect="non-scaling-stroke" pointerEvents="stroke" />
        <path
          d={path}
          fill={selected ? 'var(--hand)' : 'none'}
          fillOpacity={0.06}
          fillRule="evenodd"
          stroke={selected ? 'var(--hand)' : 'var(--ink2)'}
          strokeWidth={selected ? width + 0.8 : width}
          strokeDasharray={dash}
          vectorEffect="non-scaling-stroke"
          pointerEvents="none"
        />
      </g>
    </>
  );
}
