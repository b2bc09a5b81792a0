import { nearestOf, type Places } from './whiten';

/** Side of the squares that share their candidates, in m: several nodes of a map wide. */
const TILE_M = 6;
const HALF_DIAGONAL_M = TILE_M * Math.SQRT1_2;

/**
 * Looks for the nearest of some readings as `nearestOf` does, for many spots near each other: of each square those that can be among the nearest of any spot in it are listed once.
 * @param most as many as are looked for
 */
export function nearbyOf(places: Places, own: Int32Array, most: number): (xM: number, yM: number, out: Int32Array, without?: number) => void {
  const { xM: x, yM: y } = places;
  const tiles = new Map<string, Int32Array>();
  // One more, for one may be left out.
  const near = new Int32Array(most + 1);
  const found = new Int32Array(own.length);
  /** Within r of the middle the last that counts lies no further than the middle's, and r more: it lies within twice r more of the middle. */
  const candidatesOf = (middleX: number, middleY: number): Int32Array => {
    nearestOf(places, own, own.length, middleX, middleY, most + 1, near, 0);
    const last = near[most]!;
    if (last < 0) return own;
    const withinM = Math.sqrt((x[last]! - middleX) ** 2 + (y[last]! - middleY) ** 2) + 2 * HALF_DIAGONAL_M + 1e-6;
    let count = 0;
    for (let k = 0; k < own.length; k++) {
      const i = own[k]!;
      if ((x[i]! - middleX) ** 2 + (y[i]! - middleY) ** 2 <= withinM * withinM) found[count++] = i;
    }
    return found.slice(0, count);
  };
  let [col, row, candidates] = [NaN, NaN, own];
  const enter = (): void => {
    const key = `${col}/${row}`;
    candidates = tiles.get(key) ?? candidatesOf((col + 0.5) * TILE_M, (row + 0.5) * TILE_M);
    tiles.set(key, candidates);
  };
  return (xM, yM, out, without = -1) => {
    const [toCol, toRow] = [Math.floor(xM / TILE_M), Math.floor(yM / TILE_M)];
    // Most spots lie in the square of the one before.
    if (toCol !== col || toRow !== row) {
      [col, row] = [toCol, toRow];
      enter();
    }
    nearestOf(places, candidates, candidates.length, xM, yM, most, out, 0, without);
  };
}
