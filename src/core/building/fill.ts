import { contours } from 'd3-contour';
import { UpperRoomError } from '../errors';
import type { PointM } from '../geometry/point';
import { boundsOf, contains, type PolygonM } from '../geometry/polygon';
import { simplified } from '../geometry/ring';
import { sidesOf, type SegmentM } from '../geometry/segment';
import { nearestSpot } from '../geometry/snap';
import { segmentOf, type Wall } from './wall';

/** Cells of this size tell a wall from a gap, and a room from another; on a very large floor they are coarser, so that no click waits. */
const LEAST_CELL_M = 0.1;
const MOST_CELLS = 1_000_000;

/**
 * The room round a spot: what can be reached from it without passing a wall, openings taken as closed. Its ring is traced along the cells and straightened; it
 * follows the walls to within a cell.
 * @throws UpperRoomError NO_ROOM_HERE on a wall, or outside of the outline
 */
export function roomRound(at: PointM, walls: readonly Wall[], outline: PolygonM): PointM[] {
  const box = boundsOf(outline);
  if (box === null || !contains(outline, at.xM, at.yM)) throw new UpperRoomError('NO_ROOM_HERE');
  const { cells, cols, rows, cellM, col, row, xM, yM } = rasterOf([...walls.map(segmentOf), ...sidesOf(outline)], box, 1);
  const start = row(at.yM) * cols + col(at.xM);
  if (cells[start] === 1) throw new UpperRoomError('NO_ROOM_HERE');
  const queue = [start];
  cells[start] = 2;
  for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
    const c = next % cols;
    const r = (next - c) / cols;
    // The outline is closed, so this is never reached; an edge of the raster must not lead to its other side.
    if (c === 0 || r === 0 || c === cols - 1 || r === rows - 1) throw new UpperRoomError('NO_ROOM_HERE');
    for (const near of [next - 1, next + 1, next - cols, next + cols]) {
      if (cells[near] !== 0) continue;
      cells[near] = 2;
      queue.push(near);
    }
  }
  const corners = traced(cells, cols, rows, 2).map(([c, r]) => ({ xM: xM(c), yM: yM(r) }));
  return simplified(corners, cellM).map((corner) => onWalls(corner, walls, outline, 3 * cellM));
}

/**
 * The outline of a building: what cannot be reached from far outside without passing a wall, openings taken as closed; of several parts the largest. It is traced
 * along the walls' cells and drawn to their ends.
 * @throws UpperRoomError NO_OUTER_WALLS where the walls close nothing in
 */
export function outlineOf(walls: readonly Wall[]): PointM[] {
  const box = boundsOf(walls.flatMap((wall) => [segmentOf(wall).a, segmentOf(wall).b]));
  if (box === null) throw new UpperRoomError('NO_OUTER_WALLS');
  // Open ground all round, from which everything outside is reached.
  const { cells, cols, rows, cellM, xM, yM } = rasterOf(walls.map(segmentOf), box, 2);
  const queue = [0];
  cells[0] = 2;
  for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
    const c = next % cols;
    for (const near of [c > 0 ? next - 1 : -1, c < cols - 1 ? next + 1 : -1, next - cols, next + cols]) {
      if (near < 0 || near >= cells.length || cells[near] !== 0) continue;
      cells[near] = 2;
      queue.push(near);
    }
  }
  // Walls that close nothing in are no building.
  if (!cells.includes(0)) throw new UpperRoomError('NO_OUTER_WALLS');
  const inside = cells.map((cell) => (cell === 2 ? 0 : 2));
  const corners = traced(inside, cols, rows, 2).map(([c, r]) => ({ xM: xM(c - 0.5), yM: yM(r - 0.5) }));
  const ends = walls.flatMap((wall) => [segmentOf(wall).a, segmentOf(wall).b]);
  return simplified(corners, 1.5 * cellM).map((corner) => nearestSpot(corner, ends, 3 * cellM) ?? corner);
}

/** Lines as cells of 1 on a raster over a box, with so many empty cells about it; cells are coarser where there would be too many. */
function rasterOf(lines: readonly SegmentM[], box: NonNullable<ReturnType<typeof boundsOf>>, margin: number) {
  const [wideM, deepM] = [box.eastM - box.westM, box.southM - box.northM];
  const cellM = Math.max(LEAST_CELL_M, Math.sqrt((wideM * deepM) / MOST_CELLS));
  const cols = Math.ceil(wideM / cellM) + 2 * margin + 1;
  const rows = Math.ceil(deepM / cellM) + 2 * margin + 1;
  const col = (xM: number): number => Math.floor((xM - box.westM) / cellM) + margin;
  const row = (yM: number): number => Math.floor((yM - box.northM) / cellM) + margin;
  const cells = new Uint8Array(cols * rows);
  for (const { a, b } of lines) {
    const steps = Math.max(1, Math.ceil((Math.hypot(b.xM - a.xM, b.yM - a.yM) / cellM) * 4));
    for (let s = 0; s <= steps; s++) {
      const [c, r] = [col(a.xM + ((b.xM - a.xM) * s) / steps), row(a.yM + ((b.yM - a.yM) * s) / steps)];
      if (c >= 0 && r >= 0 && c < cols && r < rows) cells[r * cols + c] = 1;
    }
  }
  return {
    cells,
    cols,
    rows,
    cellM,
    col,
    row,
    xM: (c: number) => box.westM + (c - margin) * cellM,
    yM: (r: number) => box.northM + (r - margin) * cellM,
  };
}

/** The outer boundary of cells of a kind, in cells; of several parts that of the largest. */
function traced(cells: Uint8Array, cols: number, rows: number, kind: number): ReadonlyArray<readonly [number, number]> {
  const reached = Array.from(cells, (cell) => (cell === kind ? 1 : 0));
  const [area] = contours().size([cols, rows]).smooth(false).thresholds([0.5])(reached);
  // Holes follow the outer ring: pillars and shafts stay part of the room.
  const rings = area!.coordinates.map(([outer]) => outer!);
  const largest = rings.reduce((best, ring) => (Math.abs(ringArea(ring)) > Math.abs(ringArea(best)) ? ring : best));
  return largest.slice(1).map(([c, r]) => [c!, r!] as const);
}

const ringArea = (ring: ReadonlyArray<readonly number[]>): number =>
  ring.reduce((sum, [x, y], i) => sum + x! * ring[(i + 1) % ring.length]![1]! - ring[(i + 1) % ring.length]![0]! * y!, 0) / 2;

/** A corner drawn to the nearest end of a wall or corner of the outline, where one is within reach. */
function onWalls(corner: PointM, walls: readonly Wall[], outline: PolygonM, reachM: number): PointM {
  const ends = [...walls.flatMap((wall) => [segmentOf(wall).a, segmentOf(wall).b]), ...outline];
  return nearestSpot(corner, ends, reachM) ?? corner;
}
