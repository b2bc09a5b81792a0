import { contours } from 'd3-contour';
import { UpperRoomError } from '../errors';
import type { PointM } from '../geometry/point';
import { boundsOf, contains, type PolygonM } from '../geometry/polygon';
import { simplified } from '../geometry/ring';
import { sidesOf } from '../geometry/segment';
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
  const [wideM, deepM] = [box.eastM - box.westM, box.southM - box.northM];
  const cellM = Math.max(LEAST_CELL_M, Math.sqrt((wideM * deepM) / MOST_CELLS));
  const cols = Math.ceil(wideM / cellM) + 2;
  const rows = Math.ceil(deepM / cellM) + 2;
  const col = (xM: number): number => Math.floor((xM - box.westM) / cellM) + 1;
  const row = (yM: number): number => Math.floor((yM - box.northM) / cellM) + 1;
  // 1: a wall or outside; 2: reached.
  const cells = new Uint8Array(cols * rows);
  for (const { a, b } of [...walls.map(segmentOf), ...sidesOf(outline)]) {
    const steps = Math.max(1, Math.ceil((Math.hypot(b.xM - a.xM, b.yM - a.yM) / cellM) * 4));
    for (let s = 0; s <= steps; s++) {
      const [c, r] = [col(a.xM + ((b.xM - a.xM) * s) / steps), row(a.yM + ((b.yM - a.yM) * s) / steps)];
      if (c >= 0 && r >= 0 && c < cols && r < rows) cells[r * cols + c] = 1;
    }
  }
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
  const corners = traced(cells, cols, rows).map(([c, r]) => ({ xM: box.westM + (c - 1) * cellM, yM: box.northM + (r - 1) * cellM }));
  return simplified(corners, cellM).map((corner) => onWalls(corner, walls, outline, 3 * cellM));
}

/** The outer boundary of the reached cells, in cells. */
function traced(cells: Uint8Array, cols: number, rows: number): ReadonlyArray<readonly [number, number]> {
  const reached = Array.from(cells, (cell) => (cell === 2 ? 1 : 0));
  const [area] = contours().size([cols, rows]).smooth(false).thresholds([0.5])(reached);
  // Holes follow the outer ring: pillars and shafts stay part of the room.
  return area!.coordinates[0]![0]!.slice(1).map(([c, r]) => [c!, r!] as const);
}

/** A corner drawn to the nearest end of a wall or corner of the outline, where one is within reach. */
function onWalls(corner: PointM, walls: readonly Wall[], outline: PolygonM, reachM: number): PointM {
  const ends = [...walls.flatMap((wall) => [segmentOf(wall).a, segmentOf(wall).b]), ...outline];
  return nearestSpot(corner, ends, reachM) ?? corner;
}
