import type { Piece } from './accept';
import type { CleanPicture } from './picture';
import { StrokeGrid, distancePx, type Stroke } from './stroke';
import { percentile } from './statistics';

/** A door's leaf and arc: hung at (hx, hy), closed it reaches along (ux, uy) for `radiusPx`, opened along (ox, oy). */
export type FoundDoor = Readonly<{
  hx: number;
  hy: number;
  ux: number;
  uy: number;
  ox: number;
  oy: number;
  radiusPx: number;
  /** Shares of arc and leaf that were inked, of the circles beside it; and all in one. */
  arc: number;
  leaf: number;
  beside: number;
  score: number;
}>;

/** Ink, and ink grown by 1 and 2 px, one bit each. */
export type InkMask = Readonly<{ widthPx: number; heightPx: number; bits: Uint8Array }>;
const INK = 1;
const GROWN_1 = 2;
const GROWN_2 = 4;

const INK_BELOW = { clean: 150, noisy: 165 } as const;

/** Where there is ink, and where it is near. */
export function inkOf({ widthPx, heightPx, grey, noisy }: CleanPicture): InkMask {
  const bits = new Uint8Array(grey.length);
  const below = noisy ? INK_BELOW.noisy : INK_BELOW.clean;
  for (let y = 2; y < heightPx - 2; y++)
    for (let x = 2, i = y * widthPx + 2; x < widthPx - 2; x++, i++) {
      if (grey[i]! >= below) continue;
      bits[i]! |= INK | GROWN_1 | GROWN_2;
      for (let dy = -2; dy <= 2; dy++)
        for (let dx = -2; dx <= 2; dx++) bits[i + dy * widthPx + dx]! |= Math.abs(dx) <= 1 && Math.abs(dy) <= 1 ? GROWN_1 | GROWN_2 : GROWN_2;
    }
  return { widthPx, heightPx, bits };
}

const has = ({ widthPx, heightPx, bits }: InkMask, x: number, y: number, bit: number): boolean =>
  x >= 0 && y >= 0 && x < widthPx && y < heightPx && (bits[(y | 0) * widthPx + (x | 0)]! & bit) !== 0;

/** Angles along a leaf's arc, from closed to open. */
const ARC = Array.from({ length: 14 }, (_, i) => ((6 + 6 * i) * Math.PI) / 180).map((turn) => [Math.cos(turn), Math.sin(turn)] as const);
const PRETEST = [2, 7, 11];
const ALONG_SHIFTS = [0, -2, 2, -4.5, 4.5];

export type DoorSearch = Readonly<{ minPx: number; maxPx: number; thickPx: number; linePx: number; reachPx: number }>;

/**
 * Doors by their arcs, looked for at each end of a wall: leaves of any length between the limits, hung here or at the far jamb, opening to
 * either side. The far jamb must be at a wall too, or meet a second leaf.
 */
export function doorsOf(ink: InkMask, walls: readonly Piece[], search: DoorSearch): FoundDoor[] {
  const grid = new StrokeGrid(walls, Math.max(40, search.reachPx));
  const found: FoundDoor[] = [];
  for (const wall of walls)
    for (const [x, y, way] of [
      [wall.ax, wall.ay, -1],
      [wall.bx, wall.by, 1],
    ] as const)
      found.push(...atEnd(ink, grid, wall, x, y, way, search));
  return strongest(found, 0.6 * (search.maxPx / 1.25)).map((door) => sharpened(ink, door));
}

/** Is there a wall within reach of a spot, besides the one the search began at? */
const meets = (grid: StrokeGrid<Piece>, x: number, y: number, reachPx: number, but: Stroke | null): boolean => {
  for (const wall of grid.near(x, y)) if (wall !== but && distancePx(wall, x, y) <= reachPx + wall.thickPx / 2) return true;
  return false;
};

function atEnd(ink: InkMask, grid: StrokeGrid<Piece>, wall: Piece, x: number, y: number, way: 1 | -1, search: DoorSearch): FoundDoor[] {
  const [ux, uy] = [wall.ux * way, wall.uy * way];
  const doors: FoundDoor[] = [];
  const asides = wall.thickPx > 6 ? [0, -wall.thickPx / 2, wall.thickPx / 2] : [0];
  for (const aside of asides)
    for (const along of ALONG_SHIFTS) {
      const [jx, jy] = [x + ux * along - uy * aside, y + uy * along + ux * aside];
      for (let radius = search.minPx; radius <= search.maxPx; radius += radius < 30 ? 1 : 1.5)
        for (const side of [1, -1] as const) {
          const [ox, oy] = [-uy * side, ux * side];
          const here = judged(ink, jx, jy, ux, uy, ox, oy, radius, search.linePx);
          const there = judged(ink, jx + ux * radius, jy + uy * radius, -ux, -uy, ox, oy, radius, search.linePx);
          for (const door of [here, there])
            if (door !== null && closes(ink, grid, wall, door, jx + ux * radius, jy + uy * radius, ux, uy, door === here, search)) doors.push(door);
        }
    }
  return doors;
}

/** The far jamb is at a wall, or a second leaf comes from as far again. */
function closes(
  ink: InkMask,
  grid: StrokeGrid<Piece>,
  wall: Piece,
  door: FoundDoor,
  fx: number,
  fy: number,
  ux: number,
  uy: number,
  hungHere: boolean,
  { reachPx, linePx }: DoorSearch,
): boolean {
  if (meets(grid, fx, fy, reachPx, wall)) return true;
  if (!hungHere) return false;
  const { radiusPx, ox, oy } = door;
  const [qx, qy] = [fx + ux * radiusPx, fy + uy * radiusPx];
  return judged(ink, qx, qy, -ux, -uy, ox, oy, radiusPx, linePx) !== null && meets(grid, qx, qy, reachPx, wall);
}

/** A leaf hung at (hx, hy), by its ink; null when it is none. */
function judged(
  ink: InkMask,
  hx: number,
  hy: number,
  ux: number,
  uy: number,
  ox: number,
  oy: number,
  radius: number,
  linePx: number,
): FoundDoor | null {
  const on = (r: number, i: number, bit: number): boolean => {
    const [cos, sin] = ARC[i]!;
    return has(ink, hx + r * (ux * cos + ox * sin), hy + r * (uy * cos + oy * sin), bit);
  };
  for (const i of PRETEST) if (!on(radius, i, GROWN_1)) return null;
  let [hit, inner, outer] = [0, 0, 0];
  const off = Math.max(4, linePx + 2.5);
  for (let i = 0; i < ARC.length; i++) {
    if (on(radius, i, GROWN_1)) hit++;
    if (on(radius - off, i, INK)) inner++;
    if (on(radius + off, i, INK)) outer++;
  }
  const arc = hit / ARC.length;
  const beside = Math.max(inner, outer) / ARC.length;
  if (arc < 0.78 || beside >= 0.4) return null;
  let [leafInk, clear] = [0, 0];
  const stations = 12;
  for (let s = 0; s < stations; s++) {
    // The foot of the leaf may be hidden in the wall.
    const r = radius * (0.12 + (0.86 * (s + 0.5)) / stations);
    if (has(ink, hx + ox * r, hy + oy * r, GROWN_2)) leafInk++;
    const q = radius * (0.12 + (0.76 * (s + 0.5)) / stations);
    if (!has(ink, hx + ux * q, hy + uy * q, INK)) clear++;
  }
  const leaf = leafInk / stations;
  const open = clear / stations;
  if (leaf < 0.6 || open < 0.6) return null;
  const score = 0.45 * arc + 0.25 * leaf + 0.15 * open + 0.15 * (1 - beside);
  return score > 0.68 ? { hx, hy, ux, uy, ox, oy, radiusPx: radius, arc, leaf, beside, score } : null;
}

const FINER = [-3, -2.25, -1.5, -0.75, 0, 0.75, 1.5, 2.25, 3];

/** The leaf whose arc lies best on the ink itself, the middle of all that lie equally well: the search allowed for a px or two. */
function sharpened(ink: InkMask, door: FoundDoor): FoundDoor {
  const { hx, hy, ux, uy, ox, oy, radiusPx } = door;
  let [most, count, sumAlong, sumOut, sumRadius] = [-1, 0, 0, 0, 0];
  for (const along of FINER)
    for (const out of FINER)
      for (const grow of FINER) {
        let hits = 0;
        const radius = radiusPx + grow;
        for (const [cos, sin] of ARC)
          if (
            has(ink, hx + ux * (along + radius * cos) + ox * (out + radius * sin), hy + uy * (along + radius * cos) + oy * (out + radius * sin), INK)
          )
            hits++;
        // The leaf's tip is where its arc begins.
        for (let back = 1; back <= 4; back++) {
          const r = (radius * back) / 5;
          if (has(ink, hx + ux * along + ox * (out + r), hy + uy * along + oy * (out + r), INK)) hits++;
        }
        if (hits < most) continue;
        if (hits > most) [most, count, sumAlong, sumOut, sumRadius] = [hits, 0, 0, 0, 0];
        count++;
        sumAlong += along;
        sumOut += out;
        sumRadius += radius;
      }
  const [along, out] = [sumAlong / count, sumOut / count];
  return { ...door, hx: hx + ux * along + ox * out, hy: hy + uy * along + oy * out, radiusPx: sumRadius / count };
}

/** Of leaves in one place the best one; of two hung back to back both stay. */
function strongest(doors: readonly FoundDoor[], withinPx: number): FoundDoor[] {
  const kept: FoundDoor[] = [];
  for (const door of [...doors].sort((p, q) => q.score - p.score || q.radiusPx - p.radiusPx)) {
    const [x, y] = middleOf(door);
    if (
      kept.every(
        (other) => Math.hypot(x - middleOf(other)[0], y - middleOf(other)[1]) > Math.min(withinPx, 0.75 * Math.max(door.radiusPx, other.radiusPx)),
      )
    )
      kept.push(door);
  }
  return kept;
}

/** The middle of the opening that a leaf closes. */
export const middleOf = ({ hx, hy, ux, uy, radiusPx }: FoundDoor): readonly [number, number] => [hx + (ux * radiusPx) / 2, hy + (uy * radiusPx) / 2];

/** A door's leaf is taken to be as wide as this, in m: the scale is guessed by it. */
export const LEAF_M = 0.9;
const MIN_SHARP = 4;

/** Pixels a metre by the leaves of doors that are sharply drawn; null when they are too few. */
export function scaleByDoors(doors: readonly FoundDoor[]): { pxPerM: number; count: number } | null {
  const sharp = doors.filter(({ arc, leaf, beside }) => arc > 0.9 && leaf > 0.8 && beside < 0.2);
  if (sharp.length < MIN_SHARP) return null;
  // The commonest leaf, longer ones counting for more: chairs are small and many.
  const radii = sharp.map(({ radiusPx }) => ({ value: radiusPx, weight: radiusPx }));
  let [best, most] = [0, -1];
  for (const { value } of radii) {
    const weight = radii.reduce((sum, other) => sum + (Math.abs(Math.log(other.value / value)) < 0.17 ? other.weight : 0), 0);
    if (weight > most) [best, most] = [value, weight];
  }
  const near = radii.filter(({ value }) => Math.abs(value / best - 1) <= 0.17);
  return { pxPerM: percentile(near, 0.5) / LEAF_M, count: near.length };
}
