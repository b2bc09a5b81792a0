import type { Grid } from '../geometry/grid';
import type { PointM } from '../geometry/point';
import { planRoute, type PlannedRoute, type WalkGround } from './route';

/** A place to walk to next: its middle, the share of what is not sure that lies there, and the way to it and through it. */
export type NextPlace = Readonly<{ at: PointM; share: number; route: PlannedRoute }>;

/** Places are as large as a room: what lies within this of the middle. */
export const PLACE_RADIUS_M = 7.5;
/** So many are weighed against each other. */
const MOST_PLACES = 3;
/** Less than this is not worth a walk of its own. */
const LEAST_SHARE = 0.01;
/** Middles are tried this far apart. */
const APART_M = 2;

/** The spot about which most of some cells lie, and those cells: of equals the first by row. Null where there is none. */
function densest(grid: Grid, cells: Uint8Array): { at: PointM; own: number[] } | null {
  const { cols, rows, cellM, originXM, originYM } = grid;
  const reach = Math.floor(PLACE_RADIUS_M / cellM);
  const step = Math.max(1, Math.round(APART_M / cellM));
  let best: { col: number; row: number; count: number } | null = null;
  for (let row = 0; row < rows; row += step)
    for (let col = 0; col < cols; col += step) {
      let count = 0;
      for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++) {
        const half = Math.floor(Math.sqrt(reach * reach - (y - row) ** 2));
        for (let x = Math.max(0, col - half); x <= Math.min(cols - 1, col + half); x++) count += cells[y * cols + x]!;
      }
      if (count > (best?.count ?? 0)) best = { col, row, count };
    }
  if (best === null) return null;
  const { col, row } = best;
  const own: number[] = [];
  for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++)
    for (let x = Math.max(0, col - reach); x <= Math.min(cols - 1, col + reach); x++)
      if (cells[y * cols + x] === 1 && (x - col) ** 2 + (y - row) ** 2 <= reach * reach) own.push(y * cols + x);
  return { at: { xM: originXM + col * cellM, yM: originYM + row * cellM }, own };
}

/**
 * Where to walk next: the places about which most of what is not sure lies, none counted twice, each with the way there from `start` and past what is not sure there; the one that settles most
 * for each metre first. What nobody can walk to is no place.
 * @param unsure cells of `grid` that are not sure
 */
export function* nextPlaces(
  ground: WalkGround,
  grid: Grid,
  unsure: Uint8Array,
  everyM: number,
  start: PointM | null,
): Generator<number, NextPlace[], unknown> {
  const all = unsure.reduce((sum, cell) => sum + cell, 0);
  const left = Uint8Array.from(unsure);
  const places: NextPlace[] = [];
  for (let tried = 0; tried < 2 * MOST_PLACES && places.length < MOST_PLACES; tried++) {
    const place = densest(grid, left);
    if (place === null || place.own.length / all < LEAST_SHARE) break;
    const own = new Uint8Array(unsure.length);
    for (const cell of place.own) {
      own[cell] = 1;
      left[cell] = 0;
    }
    const steps = planRoute(ground, grid, own, everyM, start);
    let step = steps.next();
    while (!step.done) {
      yield Math.min(1, (places.length + step.value) / MOST_PLACES);
      step = steps.next();
    }
    const route = step.value;
    // Only what can be walked to is settled.
    if (route.stops > 0 && route.unreached < 1) places.push({ at: place.at, share: (place.own.length / all) * (1 - route.unreached), route });
  }
  return places.sort((a, b) => b.share / Math.max(1, b.route.lengthM) - a.share / Math.max(1, a.route.lengthM));
}
