import { boundsOf } from '../geometry/polygon';
import type { Panes } from './panes';
import { BANDS } from '../radio/band';
import { LOSS_UNIT_DB } from './material';
import { FULL, LOWER } from './reach';

/**
 * Something that a ray may go round: panes of heavy walls that touch, seen from above. Its shadow is filled from round its free corners and over its top.
 * All places in m, heights in the building's z.
 */
export type Obstacle = Readonly<{
  /** Indices of its panes. */
  panes: Int32Array;
  /** Share of power that each pane lets through, per band. */
  through: Float64Array;
  /** x and y of each corner. */
  corners: Float64Array;
  /** 1 where a ray may pass beside the corner, 0 where something else that is heavy joins on. */
  free: Uint8Array;
  /** Per corner the places in `panes` of those that end there. */
  panesAt: readonly Int32Array[];
  /** Its top; Infinity for what reaches the ceiling. */
  topZM: number;
  /** The storey in which it stands: only rays that stay in it are bent round it. */
  storeyFromZM: number;
  storeyToZM: number;
  /** Whether its panes close a ring. */
  closed: boolean;
}>;

/** The obstacles among some panes, and which pane belongs to which: its index, or -1 for panes that are simply passed through. */
export type Obstacles = Readonly<{ list: readonly Obstacle[]; of: Int32Array }>;

/** Ends that are nearer than this touch, in m. */
const TOUCHING_M = 0.02;
/** What has more corners is no thing to go round but a building: only its loose ends are looked at. */
const MOST_CORNERS = 12;
/** A loose end of a shorter piece is not worth the work, in m. */
const LEAST_LOOSE_M = 1;
/** A closed ring wider than this is a room, not a thing that stands about, in m. */
const WIDEST_RING_M = 12;

const known = new WeakMap<Panes, Obstacles>();

/** The obstacles among panes; made once for the same panes. */
export function obstaclesOf(panes: Panes): Obstacles {
  const made = known.get(panes) ?? findObstacles(panes);
  known.set(panes, made);
  return made;
}

/** Panes that stand as `like` stand and differ only in loss: what may be gone round is the same there, and lets another share through. */
export function likeObstacles(panes: Panes, like: Panes): void {
  const { list, of } = obstaclesOf(like);
  known.set(panes, { of, list: list.map((o) => ({ ...o, through: throughOf(panes, o.panes) })) });
}

/** Share of power that each of some panes lets through, per band. */
function throughOf({ lossUnits }: Panes, members: ArrayLike<number>): Float64Array {
  const lanes = BANDS.length;
  return Float64Array.from(
    { length: members.length * lanes },
    (_, i) => 10 ** ((-lossUnits[members[Math.floor(i / lanes)]! * lanes + (i % lanes)]! * LOSS_UNIT_DB) / 10),
  );
}

type End = Readonly<{ x: number; y: number }>;
const endOf = ({ ends }: Panes, p: number, end: 0 | 1): End => ({ x: ends[p * 4 + end * 2]!, y: ends[p * 4 + end * 2 + 1]! });
const lengthM = (panes: Panes, p: number): number => {
  const [a, b] = [endOf(panes, p, 0), endOf(panes, p, 1)];
  return Math.hypot(b.x - a.x, b.y - a.y);
};

/** Whether two panes are too far apart to touch, by the boxes round them: most are. */
function apart(ends: Float64Array, p: number, q: number): boolean {
  const [i, j] = [p * 4, q * 4];
  for (let k = 0; k < 2; k++) {
    const [a, b, c, d] = [ends[i + k]!, ends[i + 2 + k]!, ends[j + k]!, ends[j + 2 + k]!];
    if (Math.min(a, b) > Math.max(c, d) + TOUCHING_M || Math.min(c, d) > Math.max(a, b) + TOUCHING_M) return true;
  }
  return false;
}

/** Whether a spot lies on a pane, within what counts as touching. */
function touches(panes: Panes, p: number, { x, y }: End): boolean {
  const [a, b] = [endOf(panes, p, 0), endOf(panes, p, 1)];
  if (Math.min(a.x, b.x) - x > TOUCHING_M || x - Math.max(a.x, b.x) > TOUCHING_M) return false;
  if (Math.min(a.y, b.y) - y > TOUCHING_M || y - Math.max(a.y, b.y) > TOUCHING_M) return false;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const t = Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(a.x + dx * t - x, a.y + dy * t - y) <= TOUCHING_M;
}

function findObstacles(panes: Panes): Obstacles {
  const of = new Int32Array(panes.count).fill(-1);
  const heavy: number[] = [];
  for (let p = 0; p < panes.count; p++) if (panes.reach[p] !== 0) heavy.push(p);
  // Which heavy panes of one storey touch which, by their ends.
  const near = new Map<number, number[]>(heavy.map((p) => [p, []]));
  for (let i = 0; i < heavy.length; i++) {
    for (let j = 0; j < i; j++) {
      const [p, q] = [heavy[i]!, heavy[j]!];
      if (panes.storeys[p * 2] !== panes.storeys[q * 2] || apart(panes.ends, p, q)) continue;
      const meet = ([0, 1] as const).some((end) => touches(panes, p, endOf(panes, q, end)) || touches(panes, q, endOf(panes, p, end)));
      if (!meet) continue;
      near.get(p)!.push(q);
      near.get(q)!.push(p);
    }
  }
  const list: Obstacle[] = [];
  const take = (members: readonly number[]) => {
    const obstacle = obstacleOf(panes, members, near);
    if (obstacle === null) return;
    for (const p of members) of[p] = list.length;
    list.push(obstacle);
  };
  const seen = new Set<number>();
  for (const first of heavy) {
    if (seen.has(first)) continue;
    // Those that touch and reach as high: a shelf that leans on a wall is a thing of its own.
    const members = [first];
    seen.add(first);
    for (let i = 0; i < members.length; i++) {
      for (const next of near.get(members[i]!)!) {
        if (seen.has(next) || panes.reach[next] !== panes.reach[first]) continue;
        seen.add(next);
        members.push(next);
      }
    }
    if (cornersOf(panes, members).length <= MOST_CORNERS) take(members);
    else for (const p of members) if (panes.reach[p] === LOWER || lengthM(panes, p) >= LEAST_LOOSE_M) take([p]);
  }
  return { list, of };
}

/** Distinct corners of some panes, with the panes that end there. */
function cornersOf(panes: Panes, members: readonly number[]): Array<End & { panes: number[] }> {
  const corners: Array<End & { panes: number[] }> = [];
  for (const p of members) {
    for (const end of [endOf(panes, p, 0), endOf(panes, p, 1)]) {
      const same = corners.find(({ x, y }) => Math.hypot(x - end.x, y - end.y) <= TOUCHING_M);
      if (same === undefined) corners.push({ ...end, panes: [p] });
      else same.panes.push(p);
    }
  }
  return corners;
}

function obstacleOf(panes: Panes, members: readonly number[], near: ReadonlyMap<number, readonly number[]>): Obstacle | null {
  const corners = cornersOf(panes, members);
  const full = panes.reach[members[0]!] === FULL;
  const heightOf = (p: number): number => (panes.reach[p] === FULL ? Infinity : panes.heights[p * 2 + 1]!);
  const topZM = Math.max(...members.map(heightOf));
  const free = corners.map((corner) => {
    const others = corner.panes.flatMap((p) => near.get(p)!).filter((p) => !members.includes(p) && heightOf(p) >= heightOf(corner.panes[0]!));
    return others.some((p) => touches(panes, p, corner)) ? 0 : 1;
  });
  if (full && !free.includes(1)) return null;
  const closed = members.length >= 3 && corners.every((corner) => corner.panes.length >= 2);
  if (closed) {
    const box = boundsOf(corners.map(({ x, y }) => ({ xM: x, yM: y })))!;
    if (Math.max(box.eastM - box.westM, box.southM - box.northM) > WIDEST_RING_M) return null;
  }
  return {
    panes: Int32Array.from(members),
    through: throughOf(panes, members),
    corners: Float64Array.from(corners.flatMap(({ x, y }) => [x, y])),
    free: Uint8Array.from(free),
    panesAt: corners.map((corner) => Int32Array.from(corner.panes, (p) => members.indexOf(p))),
    topZM,
    storeyFromZM: panes.storeys[members[0]! * 2]!,
    storeyToZM: panes.storeys[members[0]! * 2 + 1]!,
    closed,
  };
}

/** Whether a spot lies within a closed obstacle. */
export function encloses({ panes: members, closed }: Obstacle, { ends }: Panes, x: number, y: number): boolean {
  if (!closed) return false;
  let inside = false;
  for (const p of members) {
    const [ax, ay, bx, by] = [ends[p * 4]!, ends[p * 4 + 1]!, ends[p * 4 + 2]!, ends[p * 4 + 3]!];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}
