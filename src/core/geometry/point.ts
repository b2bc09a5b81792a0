/** A spot on a floor, in metres: x to the right, y down the plan, as on a drawing. */
export type PointM = Readonly<{ xM: number; yM: number }>;

export const distanceM = (a: PointM, b: PointM): number => Math.hypot(b.xM - a.xM, b.yM - a.yM);

/** The spot at share `t` of the way from `a` to `b`. */
export const between = (a: PointM, b: PointM, t: number): PointM => ({ xM: a.xM + (b.xM - a.xM) * t, yM: a.yM + (b.yM - a.yM) * t });

/** Share along a..b (0 to 1) of the foot of the perpendicular from `p`, kept on the segment; 0 for a segment without length. */
export function nearestShare(p: PointM, a: PointM, b: PointM): number {
  const dx = b.xM - a.xM;
  const dy = b.yM - a.yM;
  const lengthSq = dx * dx + dy * dy;
  return lengthSq === 0 ? 0 : Math.min(1, Math.max(0, ((p.xM - a.xM) * dx + (p.yM - a.yM) * dy) / lengthSq));
}
