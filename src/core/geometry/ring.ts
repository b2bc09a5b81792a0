import type { PointM } from './point';
import { distanceToM } from './segment';
import type { PolygonM } from './polygon';

const turnOf = (a: PointM, b: PointM, c: PointM): number => (b.xM - a.xM) * (c.yM - a.yM) - (b.yM - a.yM) * (c.xM - a.xM);

/** Whether two pieces cross in a spot that is no end of either. */
function crosses(a: PointM, b: PointM, c: PointM, d: PointM): boolean {
  const [p, q, r, s] = [turnOf(a, b, c), turnOf(a, b, d), turnOf(c, d, a), turnOf(c, d, b)];
  return p > 0 !== q > 0 && r > 0 !== s > 0 && p !== 0 && q !== 0 && r !== 0 && s !== 0;
}

/** Whether a ring crosses itself. */
export function crossesItself(ring: PolygonM): boolean {
  const n = ring.length;
  for (let i = 0; i < n; i++) {
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      if (crosses(ring[i]!, ring[(i + 1) % n]!, ring[j]!, ring[(j + 1) % n]!)) return true;
    }
  }
  return false;
}

/** Whether the sides of two rings cross. */
export const ringsCross = (ring: PolygonM, other: PolygonM): boolean =>
  ring.some((a, i) => other.some((c, j) => crosses(a, ring[(i + 1) % ring.length]!, c, other[(j + 1) % other.length]!)));

/** A ring without corners that lie on the way between their neighbours, within `withinM`. */
export function simplified(ring: PolygonM, withinM: number): PointM[] {
  let kept = [...ring];
  for (let changed = true; changed && kept.length > 3;) {
    changed = false;
    for (let i = 0; i < kept.length && kept.length > 3; i++) {
      const [a, at, b] = [kept.at(i - 1)!, kept[i]!, kept[(i + 1) % kept.length]!];
      if (distanceToM({ a, b }, at) > withinM) continue;
      kept = kept.filter((_, k) => k !== i);
      changed = true;
    }
  }
  return kept;
}
