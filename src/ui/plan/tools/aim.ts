import { segmentOf } from '@/core/building/wall';
import type { Design, Floor } from '@/core/design/design';
import type { PointM } from '@/core/geometry/point';
import { sidesOf, type SegmentM } from '@/core/geometry/segment';
import { snapSpot, type Snapped } from '@/core/geometry/snap';
import type { Keys, ToolContext } from './machine';

export const SNAP_PX = 10;
export const SQUARE_DEG = 45;

/** Clicked places are kept to the centimetre. */
export const centimetres = ({ xM, yM }: PointM): PointM => ({ xM: Math.round(xM * 100) / 100, yM: Math.round(yM * 100) / 100 });

/** What lines are drawn to: walls and the outline. Made once per floor and its walls, for the pointer asks at every move. */
const fields = new WeakMap<Design['walls'], Map<Floor, readonly SegmentM[]>>();
function segmentsOf({ walls, floors }: Design, floorId: string, besides: readonly string[]): readonly SegmentM[] {
  const own = (): SegmentM[] =>
    Object.values(walls)
      .filter((wall) => wall.floorId === floorId && !besides.includes(wall.id))
      .map(segmentOf);
  const floor = floors[floorId]!;
  if (besides.length > 0) return [...own(), ...sidesOf(floor.outline)];
  const known = fields.get(walls) ?? new Map<Floor, readonly SegmentM[]>();
  fields.set(walls, known);
  const segments = known.get(floor) ?? [...own(), ...sidesOf(floor.outline)];
  known.set(floor, segments);
  return segments;
}

/** The raster that spots fall on: the finest of these that is still seen. */
const RASTER_M = [0.05, 0.1, 0.25, 0.5, 1] as const;
const RASTER_PX = 2;

/** Where the pointer is taken to be. */
export function aimed(
  at: PointM,
  fromM: PointM | null,
  { shift, alt }: Keys,
  { design, floorId, view }: ToolContext,
  besides: readonly string[] = [],
): Snapped {
  if (alt === true) return { at, mark: null };
  return snapSpot(at, {
    segments: segmentsOf(design, floorId, besides),
    fromM,
    reachM: SNAP_PX / view.pxPerM,
    gridM: RASTER_M.find((m) => m * view.pxPerM >= RASTER_PX) ?? 1,
    stepDeg: shift ? SQUARE_DEG : null,
  });
}
