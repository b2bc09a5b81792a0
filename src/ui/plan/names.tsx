'use client';
import { useMemo } from 'react';
import type { Zone } from '@/core/design/design';
import { centreOf } from '@/core/geometry/polygon';
import type { View } from '../state/sessionStore';
import type { MapResult } from '../state/useLens';
import { freeSpot, type LabelBox } from './labels';
import { toScreen, type PointPx } from './view';

/** Where a room's name may go when its middle is taken, in px: a little above or below first. */
const ROOM_OFFSETS = [
  [0, 0],
  [0, -26],
  [0, 30],
  [0, -44],
  [0, 50],
  [-46, 0],
  [46, 0],
  [-46, -30],
  [46, -30],
  [-46, 36],
  [46, 36],
  [0, -66],
  [0, 72],
  [-70, -50],
  [70, 50],
] as const;

/** A room with the place of its name. */
export type RoomName = Readonly<{ room: Zone; at: PointPx }>;

/** Rooms with the places of their names: in the middle, or beside what is there. */
export function roomNames(rooms: readonly Zone[], view: View, taken: readonly LabelBox[]): RoomName[] {
  return rooms.map((room) => ({ room, at: freeSpot(toScreen(view, centreOf(room.polygon)), room.name.length * 6.3, 15, ROOM_OFFSETS, taken) }));
}

/** The serving access point's name in each area large enough: colour is never the only carrier. */
export function ServedNames({ map, view, taken }: { map: MapResult; view: View; taken: readonly LabelBox[] }) {
  const spots = useMemo(() => {
    const { grid } = map.scene;
    const sums = map.radios.map(() => ({ x: 0, y: 0, n: 0 }));
    map.values.forEach((radio, i) => {
      const sum = sums[radio];
      if (sum === undefined) return;
      sum.x += i % grid.cols;
      sum.y += Math.floor(i / grid.cols);
      sum.n++;
    });
    return sums.map(({ x, y, n }) => (n < 30 ? null : { xM: grid.originXM + (x / n) * grid.cellM, yM: grid.originYM + (y / n) * grid.cellM }));
  }, [map]);
  return (
    <g pointerEvents="none" aria-hidden="true">
      {spots.map((spot, i) => {
        if (spot === null) return null;
        const p = freeSpot(toScreen(view, spot), 44, 16, ROOM_OFFSETS, taken);
        return (
          <text
            key={i}
            x={p.x}
            y={p.y + 5}
            textAnchor="middle"
            fontSize={13}
            fontWeight={600}
            fill="var(--ink)"
            stroke="var(--paper)"
            strokeOpacity={0.6}
            strokeWidth={3}
            paintOrder="stroke"
          >
            {map.radios[i]!.ap.name}
          </text>
        );
      })}
    </g>
  );
}
