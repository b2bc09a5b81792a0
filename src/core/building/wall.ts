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

/** A wall that begins higher is walked under, one that ends lower is stepped over, in m. */
const HEAD_M = 1.9;
const STEP_M = 0.2;

/** What nobody walks through, and what one walks through there. */
export type Passable = Readonly<{ barriers: readonly SegmentM[]; doors: readonly SegmentM[] }>;

/** Walls where they stand between step and head, and the doors and passages in them, which are none. */
export function passableOf(walls: readonly Wall[], openings: readonly Opening[]): Passable {
  const barriers: SegmentM[] = [];
  const doors: SegmentM[] = [];
  for (const wall of walls) {
    if (wall.baseM >= HEAD_M || wall.topM <= STEP_M) continue;
    const length = wallLengthM(wall);
    const ways = openings
      .filter(({ wallId, kind, sillM, headM }) => wallId === wall.id && (kind === 'door' || kind === 'passage') && sillM <= STEP_M && headM >= HEAD_M)
      .map(({ atM, widthM }) => ({ from: atM, to: Math.min(length, atM + widthM) }))
      .sort((p, q) => p.from - q.from);
    const { a, b } = segmentOf(wall);
    const at = (m: number) => ({ xM: a.xM + ((b.xM - a.xM) * m) / length, yM: a.yM + ((b.yM - a.yM) * m) / length });
    let done = 0;
    for (const { from, to } of [...ways, { from: length, to: length }]) {
      if (from > done) barriers.push({ a: at(done), b: at(from) });
      if (to > from) doors.push({ a: at(from), b: at(to) });
      done = Math.max(done, to);
    }
  }
  return { barriers, doors };
}
