import type { Piece } from './accept';
import { shadeAt } from './bands';
import type { CleanPicture } from './picture';
import { goesOn, jambsOf } from './prune';
import type { FoundDoor } from './doors';
import { StrokeGrid, alongPx, distancePx } from './stroke';

/** A window between two spots of a wall's line, in px. */
export type FoundWindow = Readonly<{ ax: number; ay: number; bx: number; by: number }>;

const GAP_M = { min: 0.45, max: 3.4 } as const;
const IN_BAND_M = { min: 0.6, max: 3.6 } as const;
const STATIONS = 16;
const INK_BELOW = 170;

/** Windows: gaps in a line of wall that thin lines cross, and stretches of hollow wall with a line in their middle. */
export function windowsOf(picture: CleanPicture, walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number): FoundWindow[] {
  const grid = new StrokeGrid(walls, Math.max(40, GAP_M.max * pxPerM));
  const windows: FoundWindow[] = [];
  for (const wall of walls) {
    windows.push(...withinBand(picture, wall, pxPerM));
    for (const [x, y, way] of [
      [wall.ax, wall.ay, -1],
      [wall.bx, wall.by, 1],
    ] as const) {
      let nearest: { gap: number; other: Piece } | null = null;
      for (const other of grid.near(x, y)) {
        if (other === wall || !goesOn(wall, x, y, way, other, GAP_M.max * pxPerM)) continue;
        const gap = Math.min(Math.hypot(other.ax - x, other.ay - y), Math.hypot(other.bx - x, other.by - y));
        if (nearest === null || gap < nearest.gap) nearest = { gap, other };
      }
      // Each gap once: from the wall whose end comes first.
      if (nearest === null || nearest.gap < GAP_M.min * pxPerM) continue;
      const { other, gap } = nearest;
      const [bx, by] = [x + wall.ux * way * gap, y + wall.uy * way * gap];
      const window = { ax: x, ay: y, bx, by };
      const again = windows.some((one) => Math.hypot((one.ax + one.bx - x - bx) / 2, (one.ay + one.by - y - by) / 2) < 0.4 * pxPerM);
      const door = doors.some((one) => jambsOf(one).every(([jx, jy]) => distancePx({ ...wall, ...between(window) }, jx, jy) < 0.4 * pxPerM));
      if (!again && !door && linesAcross(picture, window, Math.max(wall.thickPx, other.thickPx)) > 0.7) windows.push(window);
    }
  }
  return windows;
}

function between({ ax, ay, bx, by }: FoundWindow) {
  const lengthPx = Math.hypot(bx - ax, by - ay);
  return { ax, ay, bx, by, ux: (bx - ax) / lengthPx, uy: (by - ay) / lengthPx, lengthPx };
}

/** Share of stations along a gap at which two to four thin lines are crossed. */
function linesAcross(picture: CleanPicture, window: FoundWindow, thickPx: number): number {
  const { ax, ay, ux, uy, lengthPx } = between(window);
  let met = 0;
  for (let s = 0; s < STATIONS; s++) {
    const along = lengthPx * (0.08 + (0.84 * (s + 0.5)) / STATIONS);
    let [lines, dark] = [0, false];
    let inked = 0;
    const reach = thickPx / 2 + 2.5;
    for (let aside = -reach; aside <= reach; aside += 0.5) {
      const now = shadeAt(picture, ax + ux * along - uy * aside, ay + uy * along + ux * aside) < INK_BELOW;
      if (now && !dark) lines++;
      if (now) inked += 0.5;
      dark = now;
    }
    if (lines >= 2 && lines <= 4 && inked < 0.8 * 2 * reach) met++;
  }
  return met / STATIONS;
}

/** Stretches of a band with a line in the middle and paper on both sides of it. */
function withinBand(picture: CleanPicture, { ax, ay, ux, uy, lengthPx, thickPx }: Piece, pxPerM: number): FoundWindow[] {
  if (thickPx < 8) return [];
  const windows: FoundWindow[] = [];
  let [start, misses] = [-1, 0];
  const end = (at: number) => {
    const length = at - start;
    if (start >= 0 && length >= IN_BAND_M.min * pxPerM && length <= IN_BAND_M.max * pxPerM)
      windows.push({ ax: ax + ux * start, ay: ay + uy * start, bx: ax + ux * at, by: ay + uy * at });
    start = -1;
    misses = 0;
  };
  for (let along = 0; along <= lengthPx; along++) {
    const shade = (aside: number): number => shadeAt(picture, ax + ux * along - uy * aside, ay + uy * along + ux * aside);
    const line = Math.min(shade(-1), shade(0), shade(1)) < INK_BELOW;
    const clear = shade(-thickPx / 4) > INK_BELOW && shade(thickPx / 4) > INK_BELOW;
    if (line && clear) {
      if (start < 0) start = along;
      misses = 0;
    } else if (start >= 0 && ++misses > 2) end(along - misses);
  }
  if (start >= 0) end(lengthPx);
  return windows;
}

/** How far along a wall an opening's two ends lie, the nearer first. */
export function spanOn(wall: Piece, { ax, ay, bx, by }: FoundWindow): readonly [from: number, to: number] {
  const [p, q] = [alongPx(wall, ax, ay), alongPx(wall, bx, by)];
  return [Math.min(p, q), Math.max(p, q)];
}
