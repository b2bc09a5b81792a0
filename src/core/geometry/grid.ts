import { UpperRoomError } from '../errors';
import { boundsOf, inRegion, type PolygonM, type RegionM } from './polygon';

/**
 * A floor's lattice of square cells. Row-major, row 0 at the smallest y (the top of the plan).
 * `originXM`, `originYM` are the *centre* of cell (0, 0).
 */
export type Grid = Readonly<{ originXM: number; originYM: number; cellM: number; cols: number; rows: number }>;

/** More cells than this would not fit a page's memory with many access points. */
export const MAX_CELLS = 4_000_000;

/**
 * The lattice is shifted by this from the round numbers that plans are drawn in, so that no cell centre lies on a wall
 * and no ray runs through a wall's end. The reference calculations use the same lattice.
 */
export const LATTICE_SHIFT_M = { xM: 3.1415e-6, yM: 2.2361e-6 } as const;

/** The grid that covers the outline with cells of `cellM`. @throws UpperRoomError FLOOR_EMPTY, GRID_TOO_LARGE */
export function gridOver(outline: PolygonM, cellM: number): Grid {
  const box = boundsOf(outline);
  if (box === null || !(box.eastM > box.westM) || !(box.southM > box.northM)) throw new UpperRoomError('FLOOR_EMPTY');
  const cols = Math.max(1, Math.ceil((box.eastM - box.westM) / cellM - 1e-9));
  const rows = Math.max(1, Math.ceil((box.southM - box.northM) / cellM - 1e-9));
  if (cols * rows > MAX_CELLS) throw new UpperRoomError('GRID_TOO_LARGE', { cols, rows, maxCells: MAX_CELLS });
  return { originXM: box.westM + cellM / 2 + LATTICE_SHIFT_M.xM, originYM: box.northM + cellM / 2 + LATTICE_SHIFT_M.yM, cellM, cols, rows };
}

/** 1 for each cell whose centre lies in any of the regions and in none of `without`, else 0. */
export function maskOf(grid: Grid, regions: readonly RegionM[], without: readonly RegionM[] = []): Uint8Array {
  const mask = new Uint8Array(grid.cols * grid.rows);
  paint(grid, mask, regions, 1);
  paint(grid, mask, without, 0);
  return mask;
}

function paint(grid: Grid, mask: Uint8Array, regions: readonly RegionM[], value: 0 | 1): void {
  for (const region of regions) {
    for (let row = 0, i = 0; row < grid.rows; row++) {
      const yM = grid.originYM + row * grid.cellM;
      for (let col = 0; col < grid.cols; col++, i++) if (mask[i] !== value && inRegion(region, grid.originXM + col * grid.cellM, yM)) mask[i] = value;
    }
  }
}

/** Index of the cell that holds the spot; -1 outside the grid. */
export function cellAt(grid: Grid, xM: number, yM: number): number {
  const col = Math.round((xM - grid.originXM) / grid.cellM);
  const row = Math.round((yM - grid.originYM) / grid.cellM);
  return col < 0 || row < 0 || col >= grid.cols || row >= grid.rows ? -1 : row * grid.cols + col;
}
