'use client';
import { useMemo } from 'react';
import type { Zone } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
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

/** A count stays near the middle of its area, or it would be another's. */
const COUNT_OFFSETS = ROOM_OFFSETS.slice(0, 3);

/** A room with the place of its name. */
export type RoomName = Readonly<{ room: Zone; at: PointPx }>;

/** Rooms with the places of their names: in the middle, or beside what is there. One without a free place has none. */
export function roomNames(rooms: readonly Zone[], view: View, taken: readonly LabelBox[], bounds: LabelBox | null): RoomName[] {
  return placeNames(
    rooms.map((room) => ({ room, at: toScreen(view, centreOf(room.polygon)), width: room.name.length * 6.4 })),
    ROOM_OFFSETS,
    taken,
    bounds,
  );
}

/** The boxes that are taken, and those of rooms' names. */
export const withRoomNames = (taken: readonly LabelBox[], names: readonly RoomName[]): LabelBox[] => [
  ...taken,
  ...names.map(({ at, room }) => ({ x: at.x - room.name.length * 3.2, y: at.y - 8, width: room.name.length * 6.4, height: 16 })),
];

/** Rooms' names, in italics. */
export const RoomNames = ({ names }: { names: readonly RoomName[] }) =>
  names.map(({ room, at }) => (
    <text
      key={room.id}
      x={at.x}
      y={at.y + 4}
      textAnchor="middle"
      pointerEvents="none"
      fontFamily='"Source Serif 4", serif'
      fontStyle="italic"
      fontSize={12.5}
      fill="var(--ink)"
      stroke="var(--paper)"
      strokeOpacity={0.75}
      strokeWidth={3}
      paintOrder="stroke"
    >
      {room.name}
    </text>
  ));

/** Names with the places where they fit, each beside those before; one without a free place is left out. */
function placeNames<T extends Readonly<{ at: PointPx; width: number }>>(
  names: readonly T[],
  offsets: typeof ROOM_OFFSETS | typeof COUNT_OFFSETS,
  taken: readonly LabelBox[],
  bounds: LabelBox | null,
): T[] {
  const used = [...taken];
  return names.flatMap((name) => {
    const at = freeSpot(name.at, name.width, 16, offsets, used, bounds);
    if (at === null) return [];
    used.push({ x: at.x - name.width / 2, y: at.y - 8, width: name.width, height: 16 });
    return [{ ...name, at }];
  });
}

/** In each area large enough the name of its kind, or its count: colour is never the only carrier, and what stands on a border is of neither side. */
export function KindNames({ map, view, taken, bounds }: { map: MapResult; view: View; taken: readonly LabelBox[]; bounds: LabelBox | null }) {
  const areas = useMemo(() => areasOf(map.values, map.scene.grid.cols), [map.values, map.scene.grid.cols]);
  const { grid } = map.scene;
  const counts = lensOf(map.lens).show === 'steps';
  const names = areas.map(({ kind, col, row }) => {
    const text = counts ? String(kind) : (map.kinds[kind]?.label ?? '');
    const at = toScreen(view, { xM: grid.originXM + col * grid.cellM, yM: grid.originYM + row * grid.cellM });
    return { text, at, width: Math.max(16, text.length * 7.5) };
  });
  return (
    <g pointerEvents="none" aria-hidden="true">
      {placeNames(names, counts ? COUNT_OFFSETS : ROOM_OFFSETS, taken, bounds).map(({ text, at }, i) => (
        <text
          key={i}
          x={at.x}
          y={at.y + 5}
          textAnchor="middle"
          fontSize={13}
          fontWeight={600}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeOpacity={0.85}
          strokeWidth={3.4}
          paintOrder="stroke"
        >
          {text}
        </text>
      ))}
    </g>
  );
}

/** Smaller areas have no room for a name. */
const MIN_AREA_CELLS = 60;

/** Connected areas of one kind with the cell their name stands at: that of the area nearest to its middle. */
export function areasOf(values: Float32Array, cols: number): Array<{ kind: number; col: number; row: number }> {
  const seen = new Uint8Array(values.length);
  // The cells of the area in hand, in the order in which they are reached.
  const cells = new Int32Array(values.length);
  let count = 0;
  let kind = 0;
  const reach = (at: number): void => {
    if (seen[at] === 1 || values[at] !== kind) return;
    seen[at] = 1;
    cells[count++] = at;
  };
  const areas: Array<{ kind: number; col: number; row: number }> = [];
  for (let start = 0; start < values.length; start++) {
    kind = values[start]!;
    if (seen[start] === 1 || !(kind >= 0)) continue;
    count = 0;
    reach(start);
    let [colSum, rowSum] = [0, 0];
    for (let i = 0; i < count; i++) {
      const at = cells[i]!;
      const col = at % cols;
      colSum += col;
      rowSum += (at - col) / cols;
      if (at >= cols) reach(at - cols);
      if (at + cols < values.length) reach(at + cols);
      if (col > 0) reach(at - 1);
      if (col + 1 < cols) reach(at + 1);
    }
    if (count < MIN_AREA_CELLS) continue;
    const [middleCol, middleRow] = [colSum / count, rowSum / count];
    let [best, bestAway] = [start, Infinity];
    for (let i = 0; i < count; i++) {
      const col = cells[i]! % cols;
      const away = (col - middleCol) ** 2 + ((cells[i]! - col) / cols - middleRow) ** 2;
      if (away < bestAway) [best, bestAway] = [cells[i]!, away];
    }
    areas.push({ kind, col: best % cols, row: Math.floor(best / cols) });
  }
  return areas;
}
