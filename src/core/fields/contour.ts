import { contours as tracer } from 'd3-contour';
import type { Grid } from '../geometry/grid';

/**
 * One level's contour, as plan coordinates x, y in turn, in m. `rings` close the region at or above the level and may run along the
 * grid's border or around cells without value; `lines` are only the parts where the value truly passes the level.
 */
export type Contour = Readonly<{ level: number; rings: readonly Float32Array[]; lines: readonly Float32Array[] }>;

/** NaN cells lie below every level; this stands for them, low enough for any lens and finite so that interpolation stays finite. */
const NOTHING = -400;

/** Contours of a field at each level: marching squares with linear interpolation. */
export function contoursOf(values: Float32Array, grid: Grid, levels: readonly number[]): Contour[] {
  const { cols, rows } = grid;
  const filled = Array.from(values, (value) => (value === value ? value : NOTHING));
  const trace = tracer().size([cols, rows]).smooth(true);
  // The tracer puts the centre of cell (0, 0) at (0.5, 0.5). Every vertex lies between two neighbouring cells' centres.
  const isTrue = (x: number, y: number): boolean => {
    const west = Math.floor(x - 0.5);
    const east = Math.ceil(x - 0.5);
    const north = Math.floor(y - 0.5);
    const south = Math.ceil(y - 0.5);
    if (west < 0 || north < 0 || east >= cols || south >= rows) return false;
    return filled[north * cols + west] !== NOTHING && filled[south * cols + east] !== NOTHING;
  };
  const toPlan = (points: ReadonlyArray<readonly number[]>): Float32Array =>
    Float32Array.from(points.flatMap((point) => [grid.originXM + (point[0]! - 0.5) * grid.cellM, grid.originYM + (point[1]! - 0.5) * grid.cellM]));
  return levels.map((level) => {
    const rings: Float32Array[] = [];
    const lines: Float32Array[] = [];
    for (const ring of trace.contour(filled, level).coordinates.flat()) {
      rings.push(toPlan(ring));
      let run: number[][] = [];
      for (const point of ring) {
        if (isTrue(point[0]!, point[1]!)) run.push(point);
        else {
          if (run.length > 1) lines.push(toPlan(run));
          run = [];
        }
      }
      if (run.length > 1) lines.push(toPlan(run));
    }
    return { level, rings, lines };
  });
}
