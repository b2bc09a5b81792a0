import { meetsSlab } from '../building/slab';
import type { PointM } from '../geometry/point';
import { inRegion, ringsOf, type PolygonM } from '../geometry/polygon';
import { sidesOf } from '../geometry/segment';
import type { Medium } from './medium';
import { POSE_SHIFT_M, planShare, type Spot } from './crossing';

/** A stretch of a way, from and to as shares of it (0 to 1). */
export type Stretch = Readonly<{ from: number; to: number }>;

/**
 * The vertical section of a building along a way: what stands on it, whether the ray meets it or not. Places are shares of the way, heights the
 * building's z.
 */
export type Cut = Readonly<{
  lengthM: number;
  walls: ReadonlyArray<Readonly<{ wallId: string; share: number; baseZM: number; topZM: number }>>;
  slabs: ReadonlyArray<Stretch & Readonly<{ zM: number }>>;
  clutter: ReadonlyArray<Stretch & Readonly<{ zoneId: string; baseZM: number; topZM: number }>>;
}>;

/** The section from an antenna to a spot. */
export function cutAlong({ panes, slabs, clutter }: Medium, from: Spot, to: Spot): Cut {
  const [ax, ay] = [from.xM + POSE_SHIFT_M.xM, from.yM + POSE_SHIFT_M.yM];
  const way = { a: { xM: ax, yM: ay }, b: { xM: to.xM, yM: to.yM } };
  const walls: Array<Cut['walls'][number]> = [];
  for (let p = 0; p < panes.count; p++) {
    const share = planShare(panes, p, ax, ay, to.xM, to.yM);
    if (share < 0) continue;
    walls.push({ wallId: panes.wallIds[panes.wallIndex[p]!]!, share, baseZM: panes.heights[p * 2]!, topZM: panes.heights[p * 2 + 1]! });
  }
  walls.sort((p, q) => p.share - q.share || p.baseZM - q.baseZM);
  return {
    lengthM: Math.hypot(to.xM - ax, to.yM - ay),
    walls,
    slabs: slabs.flatMap((slab) =>
      stretchesIn(slab.solid.flatMap(ringsOf), way, (x, y) => meetsSlab(slab, x, y)).map((stretch) => ({
        ...stretch,
        zM: slab.zM,
      })),
    ),
    clutter: clutter.flatMap(({ zoneId, region, baseZM, topZM }) =>
      stretchesIn(ringsOf(region), way, (x, y) => inRegion(region, x, y)).map((stretch) => ({ ...stretch, zoneId, baseZM, topZM })),
    ),
  };
}

/** Where a way lies inside: it is cut at every ring, and each piece is asked in its middle. */
function stretchesIn(
  rings: readonly PolygonM[],
  { a, b }: Readonly<{ a: PointM; b: PointM }>,
  inside: (xM: number, yM: number) => boolean,
): Stretch[] {
  const cuts = [0, 1];
  for (const side of rings.flatMap(sidesOf)) {
    const [dx, dy] = [b.xM - a.xM, b.yM - a.yM];
    const [ex, ey] = [side.b.xM - side.a.xM, side.b.yM - side.a.yM];
    const turn = dx * ey - dy * ex;
    const [sx, sy] = [side.a.xM - a.xM, side.a.yM - a.yM];
    // Where it crosses the side's line: a cut beside the side parts what is joined again below.
    const t = (sx * ey - sy * ex) / turn;
    if (t > 0 && t < 1) cuts.push(t);
  }
  cuts.sort((p, q) => p - q);
  const stretches: Array<{ from: number; to: number }> = [];
  for (let i = 1; i < cuts.length; i++) {
    const [from, to] = [cuts[i - 1]!, cuts[i]!];
    const middle = (from + to) / 2;
    if (to <= from || !inside(a.xM + (b.xM - a.xM) * middle, a.yM + (b.yM - a.yM) * middle)) continue;
    const last = stretches.at(-1);
    if (last !== undefined && last.to === from) last.to = to;
    else stretches.push({ from, to });
  }
  return stretches;
}
