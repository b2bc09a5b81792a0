import { boundsOf, type PolygonM } from '@/core/geometry/polygon';
import type { Grid } from '@/core/geometry/grid';
import type { View } from '../state/types';
import { toPlan, type Size } from './view';

/** A cell of the floor larger than this on the screen shows its steps. */
const COARSE_PX = 6;
/** A finer cell's side on the screen. */
const FINE_PX = 3;
/** Smaller cells show nothing more: walls are thicker. */
const LEAST_CELL_M = 0.02;
/** Cells of a detail times radios: about half a second of a worker. */
const MOST_RADIO_CELLS = 1_500_000;
/** What is asked for beyond each side of the window, as a share of it, so that the plan can be moved a little. */
const MARGIN = 0.12;

type Window = Readonly<{ westM: number; northM: number; eastM: number; southM: number }>;

/** The part of a floor that the window shows; null when that is nothing. */
function windowOf(outline: PolygonM, view: View, size: Size, margin: number): Window | null {
  const box = boundsOf(outline);
  if (box === null) return null;
  const [dx, dy] = [size.widthPx * margin, size.heightPx * margin];
  const [from, to] = [toPlan(view, -dx, -dy), toPlan(view, size.widthPx + dx, size.heightPx + dy)];
  const seen = {
    westM: Math.max(box.westM, from.xM),
    northM: Math.max(box.northM, from.yM),
    eastM: Math.min(box.eastM, to.xM),
    southM: Math.min(box.southM, to.yM),
  };
  return seen.westM < seen.eastM && seen.northM < seen.southM ? seen : null;
}

/**
 * The finer cells that the window asks for where those of the floor are so large on the screen that shadows' edges show as steps; null where they are
 * not, or where there are so many radios that finer ones would take too long. Cell (0, 0) lies on the floor's lattice, halved as often as needed, so
 * that neighbouring windows agree.
 */
export function detailGrid(coarse: Grid, outline: PolygonM, view: View, size: Size, radios: number): Grid | null {
  if (coarse.cellM * view.pxPerM < COARSE_PX || radios === 0) return null;
  const seen = windowOf(outline, view, size, MARGIN);
  if (seen === null) return null;
  const areaM2 = (seen.eastM - seen.westM) * (seen.southM - seen.northM);
  const wantedM = Math.max(LEAST_CELL_M, FINE_PX / view.pxPerM, Math.sqrt((areaM2 * radios) / MOST_RADIO_CELLS));
  const parts = Math.floor(coarse.cellM / wantedM);
  if (parts < 2) return null;
  const cellM = coarse.cellM / parts;
  // The corner of the floor's first cell, and the whole number of finer cells from there.
  const [westM, northM] = [coarse.originXM - coarse.cellM / 2, coarse.originYM - coarse.cellM / 2];
  const [col, row] = [Math.floor((seen.westM - westM) / cellM), Math.floor((seen.northM - northM) / cellM)];
  return {
    cellM,
    originXM: westM + (col + 0.5) * cellM,
    originYM: northM + (row + 0.5) * cellM,
    cols: Math.ceil((seen.eastM - westM) / cellM) - col,
    rows: Math.ceil((seen.southM - northM) / cellM) - row,
  };
}

/** Whether a detail holds all that the window shows. */
export function covers({ originXM, originYM, cellM, cols, rows }: Grid, outline: PolygonM, view: View, size: Size): boolean {
  const seen = windowOf(outline, view, size, 0);
  if (seen === null) return true;
  const [westM, northM] = [originXM - cellM / 2, originYM - cellM / 2];
  return (
    seen.westM >= westM - 1e-3 &&
    seen.northM >= northM - 1e-3 &&
    seen.eastM <= westM + cols * cellM + 1e-3 &&
    seen.southM <= northM + rows * cellM + 1e-3
  );
}
