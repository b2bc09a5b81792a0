import { between, distanceM, nearestShare, type PointM } from './point';

/** A straight piece from `a` to `b`. */
export type SegmentM = Readonly<{ a: PointM; b: PointM }>;

/** Below this sine of the angle between them two lines count as parallel: 0.06 degrees. */
const PARALLEL = 1e-3;

const cross = (ax: number, ay: number, bx: number, by: number): number => ax * by - ay * bx;

/** Where the lines through two segments cross; null when they are parallel or one has no length. */
export function crossingOf({ a, b }: SegmentM, { a: c, b: d }: SegmentM): PointM | null {
  const [rx, ry, sx, sy] = [b.xM - a.xM, b.yM - a.yM, d.xM - c.xM, d.yM - c.yM];
  const turn = cross(rx, ry, sx, sy);
  if (!(Math.abs(turn) > PARALLEL * Math.hypot(rx, ry) * Math.hypot(sx, sy))) return null;
  const t = cross(c.xM - a.xM, c.yM - a.yM, sx, sy) / turn;
  return { xM: a.xM + rx * t, yM: a.yM + ry * t };
}

/** The spot of a segment that is nearest to `p`. */
export const nearestOn = ({ a, b }: SegmentM, p: PointM): PointM => between(a, b, nearestShare(p, a, b));

/** Distance of `p` from a segment, in m. */
export const distanceToM = (segment: SegmentM, p: PointM): number => distanceM(p, nearestOn(segment, p));

/** The sides of a ring. */
export const sidesOf = (ring: readonly PointM[]): SegmentM[] => ring.map((a, i) => ({ a, b: ring[(i + 1) % ring.length]! }));

/** Distance along the line a to b, in m from `a`, of the foot of the perpendicular from `p`; negative before `a`. */
export function alongM({ a, b }: SegmentM, p: PointM): number {
  const length = distanceM(a, b);
  return length === 0 ? 0 : ((p.xM - a.xM) * (b.xM - a.xM) + (p.yM - a.yM) * (b.yM - a.yM)) / length;
}

/** Distance of `p` from the line through a and b, in m: positive to the right of the way from a to b as the plan is seen (y downward). */
export function asideM({ a, b }: SegmentM, p: PointM): number {
  const length = distanceM(a, b);
  return length === 0 ? distanceM(a, p) : cross(b.xM - a.xM, b.yM - a.yM, p.xM - a.xM, p.yM - a.yM) / length;
}

/** The spot `distance` m from `a` on the line to `b`. */
export function spotAlong({ a, b }: SegmentM, distance: number): PointM {
  const length = distanceM(a, b);
  const t = length === 0 ? 0 : distance / length;
  return { xM: a.xM + (b.xM - a.xM) * t, yM: a.yM + (b.yM - a.yM) * t };
}
