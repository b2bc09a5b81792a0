import { materialOf, thicknessM } from '@/core/building/material';
import { segmentOf, type OpeningKind } from '@/core/building/wall';
import { onFloor, openingsOf, type Design } from '@/core/design/design';
import { boundsOf } from '@/core/geometry/polygon';
import type { SegmentM } from '@/core/geometry/segment';

export type DrawnOpening = Readonly<{ kind: OpeningKind; atM: number; widthM: number; hinge: 'a' | 'b'; swing: 'left' | 'right' }>;
/** A wall as it is drawn; a low one is a piece of furniture on paper. */
export type DrawnWall = Readonly<{ segment: SegmentM; thickM: number; low: boolean; openings: readonly DrawnOpening[] }>;
/** What an architect's drawing shows of a floor. */
export type DrawnPlan = Readonly<{ walls: readonly DrawnWall[]; westM: number; northM: number; eastM: number; southM: number }>;

/** Lower than a door's head is no wall on paper. */
const LOW_M = 2;
/** Thinner walls are drawn as thick as this, or nobody would see them. */
const THINNEST_M = 0.1;

/** A floor of a design as its architect would draw it. */
export function planOf(design: Design, floorId: string): DrawnPlan {
  const openings = openingsOf(design, floorId);
  return {
    ...boundsOf(design.floors[floorId]!.outline)!,
    walls: onFloor(design, 'walls', floorId).map((wall) => ({
      segment: segmentOf(wall),
      thickM: Math.max(THINNEST_M, thicknessM(materialOf(wall.materialId))),
      low: wall.topM < LOW_M || wall.baseM > 0,
      openings: openings.filter(({ wallId }) => wallId === wall.id),
    })),
  };
}
