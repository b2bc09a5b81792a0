import type { Piece } from './accept';
import type { FoundDoor } from './doors';
import { StrokeGrid, alongPx, asidePx, distancePx, strokeOf } from './stroke';

const MAX_THICK_M = 0.55;
const MIN_BAND_M = 0.045;
/** Two ends on one line with no more than this between them, in m, may be beside one window. */
const WINDOW_M = 3.2;
const MAX_ROUNDS = 4;
/** A wall that stands free is at least so long, in m. */
const FREE_M = 1.2;

/** How many ends of a wall are attached: 1 for another wall or a door, 0.7 for a wall that goes on across a window. */
export function attachedEnds(wall: Piece, others: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number): number {
  let sum = 0;
  for (const [x, y, way] of [
    [wall.ax, wall.ay, -1],
    [wall.bx, wall.by, 1],
  ] as const) {
    const touches = others.some((other) => other !== wall && distancePx(other, x, y) <= (wall.thickPx + other.thickPx) / 2 + 0.15 * pxPerM);
    const hung = doors.some((door) => jambsOf(door).some(([jx, jy]) => Math.hypot(jx - x, jy - y) <= 0.3 * pxPerM + wall.thickPx / 2));
    if (touches || hung) sum += 1;
    else if (others.some((other) => other !== wall && goesOn(wall, x, y, way, other, WINDOW_M * pxPerM))) sum += 0.7;
  }
  return sum;
}

/** The two ends of the opening that a leaf closes. */
export const jambsOf = ({ hx, hy, ux, uy, radiusPx }: FoundDoor): ReadonlyArray<readonly [number, number]> => [
  [hx, hy],
  [hx + ux * radiusPx, hy + uy * radiusPx],
];

/** Does another wall continue this one beyond its end at (x, y), within a distance? */
export function goesOn(wall: Piece, x: number, y: number, way: 1 | -1, other: Piece, withinPx: number): boolean {
  if (Math.abs(wall.ux * other.ux + wall.uy * other.uy) < 0.99) return false;
  if (Math.max(wall.thickPx, other.thickPx) > 1.7 * Math.min(wall.thickPx, other.thickPx)) return false;
  const [p, q] = [alongPx(wall, other.ax, other.ay), alongPx(wall, other.bx, other.by)];
  const end = way === 1 ? wall.lengthPx : 0;
  const gap = way === 1 ? Math.min(p, q) - end : end - Math.max(p, q);
  if (gap < 0 || gap > withinPx) return false;
  const near = Math.abs(p - end) < Math.abs(q - end) ? ([other.ax, other.ay] as const) : ([other.bx, other.by] as const);
  return Math.abs(asidePx(wall, near[0], near[1])) <= Math.max(3, 0.45 * wall.thickPx);
}

/** What walls are among: `inked`, walls of ink are told from lines well; `lines`, walls are lines like any other. */
export type Company = Readonly<{ inked: boolean; lines: boolean }>;

/**
 * What is left when all is taken away that no building has: walls too thick or too thin, cupboards, stubs that hang in the air, small islands. An
 * inked wall that stands free is one all the same; a line must be held at both ends.
 */
export function pruned(walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number, { inked, lines }: Company): Piece[] {
  let left = walls.filter(({ thickPx, inside }) => thickPx <= MAX_THICK_M * pxPerM && (inside === 'bar' || thickPx >= MIN_BAND_M * pxPerM));
  left = withoutCupboards(left, pxPerM);
  const free = inked ? left.filter(({ inside, lengthPx, thickPx }) => inside === 'bar' && lengthPx > FREE_M * pxPerM && lengthPx > 4 * thickPx) : [];
  // Once, among all lines: where one is broken, those that it held are not to fall one after the other.
  if (lines) left = withoutStubs(left, doors, pxPerM, true);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const before = left.length;
    left = withoutStubs(left, doors, pxPerM, false);
    left = withoutIslands(left, doors, pxPerM);
    if (left.length === before) break;
  }
  return [...new Set([...left, ...free])];
}

/** Walls without what is drawn of doors: their leaves, and the chords of their arcs. */
export function withoutLeaves(walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number): Piece[] {
  const near = 0.1 * pxPerM;
  return walls.filter((wall) => {
    if (wall.lengthPx > 1.5 * pxPerM) return true;
    const ends = [
      [wall.ax, wall.ay],
      [wall.bx, wall.by],
    ] as const;
    return !doors.some(({ hx, hy, ux, uy, ox, oy, radiusPx }) =>
      ends.every(([x, y]) => {
        const [along, out] = [(x - hx) * ux + (y - hy) * uy, (x - hx) * ox + (y - hy) * oy];
        const leaf = Math.abs(along) < near && out > -near && out < radiusPx + near;
        const arc = along > -near && out > -near && Math.abs(Math.hypot(along, out) - radiusPx) < near && out > near;
        return leaf || arc;
      }),
    );
  });
}

/** A short band close along a longer wall is what stands before it. */
function withoutCupboards(walls: readonly Piece[], pxPerM: number): Piece[] {
  const grid = new StrokeGrid(walls, Math.max(40, 1.2 * pxPerM));
  return walls.filter((wall) => {
    if (wall.lengthPx >= 3.2 * pxPerM) return true;
    for (const other of grid.along(wall)) {
      if (other === wall || other.lengthPx < 1.2 * wall.lengthPx || Math.abs(wall.ux * other.ux + wall.uy * other.uy) < 0.99) continue;
      const [mx, my] = [(wall.ax + wall.bx) / 2, (wall.ay + wall.by) / 2];
      const at = alongPx(other, mx, my);
      const clear = Math.abs(asidePx(other, mx, my)) - (wall.thickPx + other.thickPx) / 2;
      if (at > 0 && at < other.lengthPx && clear < 0.35 * pxPerM) return false;
    }
    return true;
  });
}

function withoutStubs(walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number, lines: boolean): Piece[] {
  const grid = new StrokeGrid(walls, Math.max(40, WINDOW_M * pxPerM));
  return walls.filter((wall) => {
    const near = [...grid.along(wall)];
    // What lies within another wall is its hatching.
    if (isHatching(wall, near)) return false;
    const ends = attachedEnds(wall, near, doors, pxPerM);
    if (ends === 0 && !near.some((other) => other !== wall && touching(wall, other, pxPerM))) return false;
    const short = wall.lengthPx < 0.9 * pxPerM || wall.lengthPx < 3 * wall.thickPx;
    return ends >= (lines ? 1.7 : short ? 1.4 : 0);
  });
}

/** A short piece whose ends both lie within longer walls, of one or of the two that meet at a corner. */
function isHatching(wall: Piece, near: readonly Piece[]): boolean {
  const within = (x: number, y: number) => near.find((other) => other.lengthPx > wall.lengthPx && distancePx(other, x, y) < other.thickPx / 2 + 2);
  const [p, q] = [within(wall.ax, wall.ay), within(wall.bx, wall.by)];
  return p !== undefined && q !== undefined && wall.lengthPx < 2.5 * Math.max(p.thickPx, q.thickPx);
}

/** Whether a leaf hangs at a wall that stands, and is not itself the line of one. */
export function hangs(door: FoundDoor, walls: readonly Piece[], pxPerM: number): boolean {
  const { hx, hy, ox, oy, radiusPx } = door;
  const [mx, my] = [hx + (ox * radiusPx) / 2, hy + (oy * radiusPx) / 2];
  if (walls.some((wall) => Math.abs(wall.ux * ox + wall.uy * oy) > 0.97 && distancePx(wall, mx, my) < wall.thickPx / 2 + 0.5)) return false;
  return jambsOf(door).some(([x, y]) =>
    walls.some(
      (wall) =>
        Math.abs(alongPx(wall, x, y) - wall.lengthPx / 2) < wall.lengthPx / 2 + 0.4 * pxPerM &&
        Math.abs(asidePx(wall, x, y)) < 0.3 * pxPerM + wall.thickPx / 2,
    ),
  );
}

/** Two walls touch where an end of one comes to the other. */
function touching(p: Piece, q: Piece, pxPerM: number): boolean {
  const reach = (p.thickPx + q.thickPx) / 2 + 0.15 * pxPerM;
  return (
    distancePx(p, q.ax, q.ay) <= reach ||
    distancePx(p, q.bx, q.by) <= reach ||
    distancePx(q, p.ax, p.ay) <= reach ||
    distancePx(q, p.bx, p.by) <= reach
  );
}

/** Walls that hang together, by touch, doors and windows: small islands go, and so does what has no door and encloses a part that has. */
function withoutIslands(walls: readonly Piece[], doors: readonly FoundDoor[], pxPerM: number): Piece[] {
  const group = walls.map((_, i) => i);
  const rootOf = (i: number): number => (group[i] === i ? i : (group[i] = rootOf(group[i]!)));
  const link = (i: number, j: number) => (group[rootOf(i)] = rootOf(j));
  const grid = new StrokeGrid(walls, Math.max(40, WINDOW_M * pxPerM));
  const index = new Map(walls.map((wall, i) => [wall, i]));
  walls.forEach((wall, i) => {
    for (const other of grid.along(wall)) {
      const j = index.get(other)!;
      if (j === i || rootOf(i) === rootOf(j)) continue;
      const linked =
        touching(wall, other, pxPerM) ||
        goesOn(wall, wall.ax, wall.ay, -1, other, WINDOW_M * pxPerM) ||
        goesOn(wall, wall.bx, wall.by, 1, other, WINDOW_M * pxPerM);
      if (linked) link(i, j);
    }
  });
  const doorsOfWall = new Map<number, number>();
  for (const door of doors) {
    const near = jambsOf(door).map(([x, y]) =>
      [...grid.near(x, y)].filter((wall) => distancePx(wall, x, y) <= 0.35 * pxPerM + wall.thickPx / 2).map((wall) => index.get(wall)!),
    );
    const all = near.flat();
    for (const i of all.slice(1)) link(all[0]!, i);
    if (all.length > 0) doorsOfWall.set(all[0]!, (doorsOfWall.get(all[0]!) ?? 0) + 1);
  }
  const islands = new Map<number, { lengthPx: number; doors: number; west: number; east: number; north: number; south: number }>();
  walls.forEach((wall, i) => {
    const key = rootOf(i);
    const island = islands.get(key) ?? { lengthPx: 0, doors: 0, west: Infinity, east: -Infinity, north: Infinity, south: -Infinity };
    island.lengthPx += wall.lengthPx;
    island.doors += doorsOfWall.get(i) ?? 0;
    island.west = Math.min(island.west, wall.ax, wall.bx);
    island.east = Math.max(island.east, wall.ax, wall.bx);
    island.north = Math.min(island.north, wall.ay, wall.by);
    island.south = Math.max(island.south, wall.ay, wall.by);
    islands.set(key, island);
  });
  const all = [...islands.values()];
  // A part with several doors is the building; nothing without doors may be as large as it, or round it.
  const house = all.filter((one) => one.doors >= 4).sort((p, q) => q.lengthPx - p.lengthPx)[0];
  const largest = house ?? all.sort((p, q) => q.lengthPx - p.lengthPx)[0];
  return walls.filter((_, i) => {
    const island = islands.get(rootOf(i))!;
    if (island === largest) return true;
    if (island.lengthPx < 0.06 * largest!.lengthPx || island.lengthPx < 6 * pxPerM) return false;
    if (house === undefined || island.doors > 0) return true;
    const encloses = island.west < house.west && island.east > house.east && island.north < house.north && island.south > house.south;
    return !encloses && island.lengthPx > 0.2 * house.lengthPx;
  });
}

/** Ends are drawn to the middle lines of walls they meet, or cut back to them. */
export function snapped(walls: readonly Piece[], pxPerM: number): Piece[] {
  const grid = new StrokeGrid(walls, Math.max(40, 0.8 * pxPerM));
  return walls.map((wall) => {
    const ends = ([-1, 1] as const).map((way) => {
      const at = way === 1 ? wall.lengthPx : 0;
      const [x, y] = [wall.ax + wall.ux * at, wall.ay + wall.uy * at];
      let [best, nearest] = [at, Infinity];
      for (const other of grid.near(x, y)) {
        if (other === wall) continue;
        const cross = wall.ux * other.uy - wall.uy * other.ux;
        if (Math.abs(cross) < 0.2) continue;
        // Where the two lines cross, along this one.
        const to = ((other.ax - wall.ax) * other.uy - (other.ay - wall.ay) * other.ux) / cross;
        const reach = other.thickPx / 2 / Math.abs(cross) + 0.22 * pxPerM;
        const [cx, cy] = [wall.ax + wall.ux * to, wall.ay + wall.uy * to];
        if (Math.abs(to - at) <= reach && distancePx(other, cx, cy) <= wall.thickPx / 2 + 0.3 * pxPerM && Math.abs(to - at) < nearest)
          [best, nearest] = [to, Math.abs(to - at)];
      }
      return best;
    });
    const [from, to] = ends as [number, number];
    if (to - from < 2) return wall;
    const { ax, ay, ux, uy } = wall;
    return { ...wall, ...strokeOf(ax + ux * from, ay + uy * from, ax + ux * to, ay + uy * to, wall.thickPx) };
  });
}
