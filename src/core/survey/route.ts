import { cellAt, gridOver, maskOf, type Grid } from '../geometry/grid';
import { areaM2, regionOf, type PolygonM, type RegionM } from '../geometry/polygon';
import { distanceM, type PointM } from '../geometry/point';
import { distanceToM } from '../geometry/segment';
import type { Passable } from '../building/wall';

/** A floor as a walker sees it: its outline, what has no floor under it, what nobody walks through, and the doors in that. */
export type WalkGround = Passable & Readonly<{ outline: PolygonM; holes: readonly RegionM[] }>;

/** A suggested walk: its turns, how long it is, and the share of what was to be seen that nobody can walk to. */
export type PlannedRoute = Readonly<{ turns: readonly PointM[]; lengthM: number; stops: number; unreached: number }>;

/** Nearer to a wall nobody walks, in m. */
const SHOULDER_M = 0.3;
const LEAST_CELL_M = 0.4;
const MOST_CELLS = 20_000;
const MOST_STOPS = 220;
/** A place to be seen may be this far from where one can stand, in parts of the distance between stops. */
const NEAR_SHARE = 0.75;

/** Cells where somebody can walk. */
export function walkableOn({ outline, holes, barriers, doors }: WalkGround): { grid: Grid; free: Uint8Array } {
  const grid = gridOver(outline, Math.max(LEAST_CELL_M, Math.sqrt(areaM2(outline) / MOST_CELLS)));
  const free = maskOf(grid, [regionOf(outline)], holes);
  for (const barrier of barriers) {
    const { a, b } = barrier;
    const colOf = (xM: number): number => Math.round((xM - grid.originXM) / grid.cellM);
    const rowOf = (yM: number): number => Math.round((yM - grid.originYM) / grid.cellM);
    const by = Math.ceil(SHOULDER_M / grid.cellM) + 1;
    const [west, east] = [Math.max(0, colOf(Math.min(a.xM, b.xM)) - by), Math.min(grid.cols - 1, colOf(Math.max(a.xM, b.xM)) + by)];
    const [north, south] = [Math.max(0, rowOf(Math.min(a.yM, b.yM)) - by), Math.min(grid.rows - 1, rowOf(Math.max(a.yM, b.yM)) + by)];
    for (let row = north; row <= south; row++)
      for (let col = west; col <= east; col++)
        if (distanceToM(barrier, centreOf(grid, row * grid.cols + col)) < Math.max(SHOULDER_M, grid.cellM * 0.71)) free[row * grid.cols + col] = 0;
  }
  // A door may be narrower than shoulders and cells make it: through its middle one always comes.
  const inside = maskOf(grid, [regionOf(outline)], holes);
  for (const { a, b } of doors) {
    const width = distanceM(a, b);
    const [alongX, alongY] = [(b.xM - a.xM) / width, (b.yM - a.yM) / width];
    const reachM = SHOULDER_M + grid.cellM;
    for (let across = -reachM; across <= reachM; across += grid.cellM / 4)
      for (const along of [-1, 0, 1].map((side) => side * Math.min(width / 2, grid.cellM * 0.4))) {
        const xM = (a.xM + b.xM) / 2 + along * alongX - across * alongY;
        const yM = (a.yM + b.yM) / 2 + along * alongY + across * alongX;
        const cell = cellAt(grid, xM, yM);
        if (cell >= 0 && inside[cell] === 1) free[cell] = 1;
      }
  }
  return { grid, free };
}

const centreOf = (grid: Grid, cell: number): PointM => ({
  xM: grid.originXM + (cell % grid.cols) * grid.cellM,
  yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM,
});

/** Ways from one cell to all others, by eight neighbours: lengths in m, infinite where there is none, and where each cell is come to from. */
function waysFrom(grid: Grid, free: Uint8Array, from: number): { lengthM: Float64Array; before: Int32Array } {
  const { cols, rows, cellM } = grid;
  const lengthM = new Float64Array(cols * rows).fill(Infinity);
  const before = new Int32Array(cols * rows).fill(-1);
  const heap: number[] = [];
  const keys: number[] = [];
  const push = (cell: number, key: number): void => {
    let i = heap.length;
    heap.push(cell);
    keys.push(key);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (keys[up]! <= key) break;
      [heap[i], keys[i]] = [heap[up]!, keys[up]!];
      i = up;
    }
    [heap[i], keys[i]] = [cell, key];
  };
  const pop = (): { cell: number; key: number } => {
    const top = { cell: heap[0]!, key: keys[0]! };
    const [cell, key] = [heap.pop()!, keys.pop()!];
    if (heap.length > 0) {
      let i = 0;
      for (;;) {
        let child = 2 * i + 1;
        if (child >= heap.length) break;
        if (child + 1 < heap.length && keys[child + 1]! < keys[child]!) child++;
        if (keys[child]! >= key) break;
        [heap[i], keys[i]] = [heap[child]!, keys[child]!];
        i = child;
      }
      [heap[i], keys[i]] = [cell, key];
    }
    return top;
  };
  lengthM[from] = 0;
  push(from, 0);
  while (heap.length > 0) {
    const { cell, key } = pop();
    if (key > lengthM[cell]!) continue;
    const [row, col] = [Math.floor(cell / cols), cell % cols];
    for (let dr = -1; dr <= 1; dr++)
      for (let dc = -1; dc <= 1; dc++) {
        const [r, c] = [row + dr, col + dc];
        if ((dr === 0 && dc === 0) || r < 0 || c < 0 || r >= rows || c >= cols) continue;
        const next = r * cols + c;
        if (free[next] === 0) continue;
        const length = key + (dr !== 0 && dc !== 0 ? Math.SQRT2 : 1) * cellM;
        if (length >= lengthM[next]! - 1e-6) continue;
        lengthM[next] = length;
        before[next] = cell;
        push(next, length);
      }
  }
  return { lengthM, before };
}

/** Whether one can walk straight from one cell's centre to another's. */
function seesStraight(grid: Grid, free: Uint8Array, from: number, to: number): boolean {
  const [a, b] = [centreOf(grid, from), centreOf(grid, to)];
  const steps = Math.ceil(distanceM(a, b) / (grid.cellM / 4));
  for (let k = 0; k <= steps; k++) {
    const at = k / Math.max(1, steps);
    const col = Math.round((a.xM + (b.xM - a.xM) * at - grid.originXM) / grid.cellM);
    const row = Math.round((a.yM + (b.yM - a.yM) * at - grid.originYM) / grid.cellM);
    if (free[row * grid.cols + col] === 0) return false;
  }
  return true;
}

/** The free cell next to a spot, within a distance; -1 where there is none. */
function freeNear(grid: Grid, free: Uint8Array, spot: PointM, withinM: number): number {
  const by = Math.ceil(withinM / grid.cellM);
  const [col, row] = [Math.round((spot.xM - grid.originXM) / grid.cellM), Math.round((spot.yM - grid.originYM) / grid.cellM)];
  let [best, least] = [-1, withinM];
  for (let r = Math.max(0, row - by); r <= Math.min(grid.rows - 1, row + by); r++)
    for (let c = Math.max(0, col - by); c <= Math.min(grid.cols - 1, col + by); c++) {
      const cell = r * grid.cols + c;
      const away = free[cell] === 1 ? distanceM(centreOf(grid, cell), spot) : Infinity;
      if (away < least) [best, least] = [cell, away];
    }
  return best;
}

/** An order of stops from the first on, by the nearest next and then by turning pieces round and moving single stops as long as that is shorter. */
export function tourOf(lengthM: readonly Float32Array[]): number[] {
  const n = lengthM.length;
  const left = new Set(Array.from({ length: n }, (_, i) => i));
  const order: number[] = [];
  for (let at = 0; left.size > 0;) {
    left.delete(at);
    order.push(at);
    let [next, least] = [-1, Infinity];
    for (const one of left) if (lengthM[at]![one]! < least) [next, least] = [one, lengthM[at]![one]!];
    if (next < 0) break;
    at = next;
  }
  const between = (i: number, j: number): number => (i < 0 || j >= order.length ? 0 : lengthM[order[i]!]![order[j]!]!);
  for (let moved = true; moved;) {
    moved = false;
    // The way begins where it begins; its end is free.
    for (let i = 1; i < order.length - 1; i++)
      for (let j = i + 1; j < order.length; j++) {
        const more = between(i - 1, j) + (j + 1 < order.length ? between(i, j + 1) : 0) - between(i - 1, i) - between(j, j + 1);
        if (more >= -1e-6) continue;
        order.splice(i, j - i + 1, ...order.slice(i, j + 1).reverse());
        moved = true;
      }
    for (let i = 1; i < order.length; i++) {
      const one = order[i]!;
      const without = [...order.slice(0, i), ...order.slice(i + 1)];
      const saved = between(i - 1, i) + between(i, i + 1) - (i + 1 < order.length ? between(i - 1, i + 1) : 0);
      let [best, least] = [-1, saved - 1e-6];
      for (let k = 1; k <= without.length; k++) {
        const [p, q] = [without[k - 1]!, without[k]];
        const more = lengthM[p]![one]! + (q === undefined ? 0 : lengthM[one]![q]! - lengthM[p]![q]!);
        if (more < least) [best, least] = [k, more];
      }
      if (best < 0) continue;
      without.splice(best, 0, one);
      order.splice(0, order.length, ...without);
      moved = true;
    }
  }
  return order;
}

/**
 * A walk past every place of a floor that is to be seen, with a stop at the least every `everyM` metres of a lattice: along ways that can be walked, through doors,
 * from `start` or else from the stop that lies furthest to the south-west. Yields the share of ways worked out.
 * @param toSee cells of `seen` that are to be seen
 */
export function* planRoute(
  ground: WalkGround,
  seen: Grid,
  toSee: Uint8Array,
  everyM: number,
  start: PointM | null,
): Generator<number, PlannedRoute, unknown> {
  const { grid, free } = walkableOn(ground);
  let cells = 0;
  for (let i = 0; i < toSee.length; i++) cells += toSee[i]!;
  const pitch = Math.max(everyM, Math.sqrt((cells * seen.cellM ** 2) / MOST_STOPS));
  // One stop for each square of the lattice that has something to see, where one can stand nearest to the middle of that.
  const squares = new Map<string, { xM: number; yM: number; count: number }>();
  for (let i = 0; i < toSee.length; i++) {
    if (toSee[i] === 0) continue;
    const at = centreOf(seen, i);
    const key = `${Math.floor((at.xM - seen.originXM) / pitch)}/${Math.floor((at.yM - seen.originYM) / pitch)}`;
    const square = squares.get(key) ?? { xM: 0, yM: 0, count: 0 };
    squares.set(key, { xM: square.xM + at.xM, yM: square.yM + at.yM, count: square.count + 1 });
  }
  const stops: Array<{ cell: number; count: number }> = [];
  for (const { xM, yM, count } of squares.values()) {
    const cell = freeNear(grid, free, { xM: xM / count, yM: yM / count }, NEAR_SHARE * pitch);
    if (cell >= 0) stops.push({ cell, count });
  }
  const none: PlannedRoute = { turns: [], lengthM: 0, stops: 0, unreached: cells === 0 ? 0 : 1 };
  if (stops.length === 0) return none;
  const firstCell = start === null ? -1 : freeNear(grid, free, start, 3 * pitch);
  const first =
    firstCell >= 0
      ? { cell: firstCell, count: 0 }
      : stops.reduce((best, one) => (southWest(grid, one.cell) > southWest(grid, best.cell) ? one : best));
  // What cannot be come to from there is of another part; the part with most to see is walked.
  const all = [first, ...stops.filter((one) => one !== first)];
  const ways: Array<ReturnType<typeof waysFrom>> = [];
  for (const { cell } of all) {
    ways.push(waysFrom(grid, free, cell));
    yield ways.length / all.length;
  }
  const reachOf = (k: number): number => all.reduce((sum, { cell, count }) => sum + (ways[k]!.lengthM[cell]! < Infinity ? count : 0), 0);
  const begin = firstCell >= 0 ? 0 : all.reduce((best, _, k) => (reachOf(k) > reachOf(best) ? k : best), 0);
  const own = [begin, ...all.keys()].filter((k, i) => (i === 0 || k !== begin) && ways[begin]!.lengthM[all[k]!.cell]! < Infinity);
  const order = tourOf(own.map((k) => Float32Array.from(own, (to) => ways[k]!.lengthM[all[to]!.cell]!)));
  const path: number[] = [];
  order.forEach((one, i) => {
    const to = all[own[one]!]!.cell;
    if (i === 0) return void path.push(to);
    const from = own[order[i - 1]!]!;
    const back: number[] = [];
    for (let cell = to; cell !== all[from]!.cell; cell = ways[from]!.before[cell]!) back.push(cell);
    path.push(...back.reverse());
  });
  const stopCells = new Set(own.map((k) => all[k]!.cell));
  const turns = straightened(grid, free, path, stopCells).map((cell) => toCentimetres(centreOf(grid, cell)));
  const reached = own.reduce((sum, k) => sum + all[k]!.count, 0);
  return {
    turns,
    lengthM: turns.reduce((sum, turn, i) => sum + (i === 0 ? 0 : distanceM(turns[i - 1]!, turn)), 0),
    stops: own.length,
    unreached: 1 - reached / cells,
  };
}

const southWest = (grid: Grid, cell: number): number => Math.floor(cell / grid.cols) - (cell % grid.cols);
const toCentimetres = ({ xM, yM }: PointM): PointM => ({ xM: Math.round(xM * 100) / 100, yM: Math.round(yM * 100) / 100 });

/** A way with the fewest turns: from each on straight as far as one can, but past no stop. */
function straightened(grid: Grid, free: Uint8Array, path: readonly number[], stops: ReadonlySet<number>): number[] {
  const kept = [path[0]!];
  for (let at = 0; at < path.length - 1;) {
    let to = at + 1;
    while (to + 1 < path.length && !stops.has(path[to]!) && seesStraight(grid, free, path[at]!, path[to + 1]!)) to++;
    kept.push(path[to]!);
    at = to;
  }
  return kept;
}
