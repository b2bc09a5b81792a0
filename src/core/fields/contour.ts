import { contours as tracer } from 'd3-contour';
import type { Grid } from '../geometry/grid';

/** The region at or above a level as closed rings of plan coordinates, x and y in turn, in m. */
export type Contour = Readonly<{ level: number; rings: readonly Float32Array[] }>;

/** NaN cells lie below every level; this stands for them, low enough for any lens and finite so that interpolation stays finite. */
const NOTHING = -400;

/**
 * Contours of a field at each level: marching squares with linear interpolation. Rings along the grid's border close the region;
 * `onBorder` tells them from true contour lines when drawing.
 */
export function contoursOf(values: Float32Array, grid: Grid, levels: readonly number[]): Contour[] {
  const filled = Array.from(values, (value) => (value === value ? value : NOTHING));
  const trace = tracer().size([grid.cols, grid.rows]).smooth(true);
  return levels.map((level) => ({
    level,
    rings: trace.contour(filled, level).coordinates.flatMap((polygon) =>
      polygon.map((ring) => {
        const points = new Float32Array(ring.length * 2);
        ring.forEach((point, i) => {
          // The tracer puts the centre of cell (0, 0) at (0.5, 0.5).
          points[i * 2] = grid.originXM + (point[0]! - 0.5) * grid.cellM;
          points[i * 2 + 1] = grid.originYM + (point[1]! - 0.5) * grid.cellM;
        });
        return points;
      }),
    ),
  }));
}
