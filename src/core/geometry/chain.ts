import { distanceM, type PointM } from './point';
import { areaM2 } from './polygon';

/** What is measured along a chain of spots: all its length, its last leg, the angle of that to the one before (0 to 180), and closed, its area. */
export type ChainMeasures = Readonly<{ totalM: number; lastM: number; angleDeg: number | null; areaM2: number | null }>;

/** Measures a chain. One whose last spot is its first is closed. */
export function chainMeasures(spots: readonly PointM[]): ChainMeasures {
  const legs = spots.slice(1).map((spot, i) => distanceM(spots[i]!, spot));
  const [before, corner, last] = spots.slice(-3);
  const closed = spots.length > 3 && distanceM(spots[0]!, spots.at(-1)!) === 0;
  return {
    totalM: legs.reduce((sum, leg) => sum + leg, 0),
    lastM: legs.at(-1) ?? 0,
    angleDeg: last === undefined || legs.at(-1) === 0 ? null : angleAtDeg(before!, corner!, last),
    areaM2: closed ? areaM2(spots.slice(0, -1)) : null,
  };
}

/** The angle at a corner between the ways to two spots, 0 to 180 degrees. */
function angleAtDeg(a: PointM, corner: PointM, b: PointM): number {
  const [ax, ay, bx, by] = [a.xM - corner.xM, a.yM - corner.yM, b.xM - corner.xM, b.yM - corner.yM];
  return (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) * 180) / Math.PI;
}
