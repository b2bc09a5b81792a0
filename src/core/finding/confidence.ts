import type { Piece } from './accept';
import type { FoundDoor } from './doors';
import { attachedEnds } from './prune';
import { alongPx, asidePx } from './stroke';

/** Does a like wall run close beside most of this one? Then the outlines of walls were taken for walls. */
export function isDoubled(wall: Piece, walls: readonly Piece[], pxPerM: number): boolean {
  const [mx, my] = [(wall.ax + wall.bx) / 2, (wall.ay + wall.by) / 2];
  return walls.some((other) => {
    if (other === wall || Math.abs(wall.ux * other.ux + wall.uy * other.uy) < 0.99) return false;
    const at = alongPx(other, mx, my);
    const apart = Math.abs(asidePx(other, mx, my)) / pxPerM;
    return at > 0 && at < other.lengthPx && apart > 0.05 && apart < 0.5;
  });
}

/** A rating of 0 to 1 that says which walls are surer than others, no measured share: by its length, its likes, its ends, its edges and what lies between them. */
export function confidenceOf(wall: Piece, walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number): number {
  const total = walls.reduce((sum, { lengthPx }) => sum + lengthPx, 0);
  const alike = walls.reduce((sum, { thickPx, lengthPx }) => sum + (Math.abs(thickPx / wall.thickPx - 1) <= 0.14 ? lengthPx : 0), 0) / total;
  const z =
    -2.6 +
    1.9 * Math.min(1, Math.log(1 + wall.lengthPx / pxPerM) / Math.log(12)) +
    1.7 * Math.min(1, alike / 0.25) +
    0.75 * attachedEnds(wall, walls, doors, pxPerM) +
    0.6 * wall.balance +
    (wall.inside === 'hollow' ? 0 : 0.4) +
    0.6 * wall.claimed;
  return 1 / (1 + Math.exp(-z));
}
