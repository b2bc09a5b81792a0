import { distanceM, type PointM } from './point';
import { asideM } from './segment';

/** How far a piece may lie beside the arc, in m. */
const BESIDE_M = 0.02;
const PIECES = { least: 4, most: 72 } as const;

/** The circle through three spots; null where they are in line, within a millimetre. */
export function circleThrough(a: PointM, b: PointM, c: PointM): { centre: PointM; radiusM: number } | null {
  if (!(Math.abs(asideM({ a, b }, c)) > 0.001)) return null;
  const [bx, by, cx, cy] = [b.xM - a.xM, b.yM - a.yM, c.xM - a.xM, c.yM - a.yM];
  const twice = 2 * (bx * cy - by * cx);
  const [bb, cc] = [bx * bx + by * by, cx * cx + cy * cy];
  const [x, y] = [(cy * bb - by * cc) / twice, (bx * cc - cx * bb) / twice];
  return { centre: { xM: a.xM + x, yM: a.yM + y }, radiusM: Math.hypot(x, y) };
}

/** The corners of straight pieces from `a` to `b` along the arc through `over`, within 2 cm of it; the two alone where all three are in line. */
export function arcThrough(a: PointM, b: PointM, over: PointM): PointM[] {
  const circle = distanceM(a, b) > 0 ? circleThrough(a, b, over) : null;
  if (circle === null) return [a, b];
  const { centre, radiusM } = circle;
  const angleOf = ({ xM, yM }: PointM): number => Math.atan2(yM - centre.yM, xM - centre.xM);
  const turn = (from: number, to: number): number => (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const start = angleOf(a);
  const whole = turn(start, angleOf(b));
  // The way round on which `over` lies.
  const sweep = turn(start, angleOf(over)) <= whole ? whole : whole - 2 * Math.PI;
  // A chord over the angle 2t lies r (1 - cos t) beside its arc.
  const perPiece = 2 * Math.acos(Math.max(0, 1 - BESIDE_M / radiusM));
  const pieces = Math.min(PIECES.most, Math.max(PIECES.least, Math.ceil(Math.abs(sweep) / perPiece)));
  return Array.from({ length: pieces + 1 }, (_, i) => {
    if (i === 0) return a;
    if (i === pieces) return b;
    const angle = start + (sweep * i) / pieces;
    return { xM: centre.xM + radiusM * Math.cos(angle), yM: centre.yM + radiusM * Math.sin(angle) };
  });
}
