import type { SegmentM } from '../geometry/segment';

/** A wall: a segment on the plan with a base and a top above the floor. */
export type Wall = Readonly<{
  id: string;
  floorId: string;
  axM: number;
  ayM: number;
  bxM: number;
  byM: number;
  baseM: number;
  topM: number;
  materialId: string;
}>;

export const OPENING_KINDS = ['door', 'window', 'passage', 'shutter'] as const;
export type OpeningKind = (typeof OPENING_KINDS)[number];

/** An opening in a wall: over its interval and height it replaces the wall's loss by that of its leaf. `atM` is measured from the wall's end A. */
export type Opening = Readonly<{
  id: string;
  wallId: string;
  kind: OpeningKind;
  atM: number;
  widthM: number;
  sillM: number;
  headM: number;
  materialId: string;
}>;

export const wallLengthM = (wall: Wall): number => Math.hypot(wall.bxM - wall.axM, wall.byM - wall.ayM);

export const segmentOf = (wall: Pick<Wall, 'axM' | 'ayM' | 'bxM' | 'byM'>): SegmentM => ({
  a: { xM: wall.axM, yM: wall.ayM },
  b: { xM: wall.bxM, yM: wall.byM },
});
