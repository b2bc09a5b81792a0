/** Sums over weighted spots that a straight line is fitted to. */
export type Moments = Readonly<{ w: number; x: number; y: number; xx: number; xy: number; yy: number }>;

/** A straight stroke on a sheet, in px: from a to b along the unit vector u, fitted to what it was found from. */
export type Stroke = Readonly<{ ax: number; ay: number; bx: number; by: number; ux: number; uy: number; lengthPx: number; moments: Moments }>;

export const addMoments = (p: Moments, q: Moments): Moments => ({
  w: p.w + q.w,
  x: p.x + q.x,
  y: p.y + q.y,
  xx: p.xx + q.xx,
  xy: p.xy + q.xy,
  yy: p.yy + q.yy,
});

/** The moments of an even stroke between two spots, with a weight for each px. */
export function momentsOf(ax: number, ay: number, bx: number, by: number, perPx: number): Moments {
  const w = Math.hypot(bx - ax, by - ay) * perPx;
  const [mx, my] = [(ax + bx) / 2, (ay + by) / 2];
  const [dx, dy] = [bx - ax, by - ay];
  return { w, x: w * mx, y: w * my, xx: w * (mx * mx + (dx * dx) / 12), xy: w * (mx * my + (dx * dy) / 12), yy: w * (my * my + (dy * dy) / 12) };
}

/** Main axis through weighted spots, and the standard deviation of the spots from it in px. */
export function axisOf({ w, x, y, xx, xy, yy }: Moments): { mx: number; my: number; ux: number; uy: number; sd: number } {
  const [mx, my] = [x / w, y / w];
  const [cxx, cxy, cyy] = [xx / w - mx * mx, xy / w - mx * my, yy / w - my * my];
  const turn = Math.atan2(2 * cxy, cxx - cyy) / 2;
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  return { mx, my, ux, uy, sd: Math.sqrt(Math.max(0, cxx * uy * uy - 2 * cxy * ux * uy + cyy * ux * ux)) };
}

/** A stroke between two spots, as they are. */
export function strokeOf(ax: number, ay: number, bx: number, by: number, perPx = 1): Stroke {
  const lengthPx = Math.hypot(bx - ax, by - ay);
  return { ax, ay, bx, by, ux: (bx - ax) / lengthPx, uy: (by - ay) / lengthPx, lengthPx, moments: momentsOf(ax, ay, bx, by, perPx) };
}

/** One stroke of two: fitted to what both were found from, as long as both reach, running the way of the first. */
export function joined(p: Stroke, q: Stroke): Stroke {
  const moments = addMoments(p.moments, q.moments);
  const axis = axisOf(moments);
  const way = axis.ux * p.ux + axis.uy * p.uy < 0 ? -1 : 1;
  const [ux, uy] = [axis.ux * way, axis.uy * way];
  let [from, to] = [Infinity, -Infinity];
  for (const [x, y] of [
    [p.ax, p.ay],
    [p.bx, p.by],
    [q.ax, q.ay],
    [q.bx, q.by],
  ] as const) {
    const at = (x - axis.mx) * ux + (y - axis.my) * uy;
    from = Math.min(from, at);
    to = Math.max(to, at);
  }
  return {
    ax: axis.mx + ux * from,
    ay: axis.my + uy * from,
    bx: axis.mx + ux * to,
    by: axis.my + uy * to,
    ux,
    uy,
    lengthPx: to - from,
    moments,
  };
}

/** How far along a stroke a spot lies, from its end a. */
export const alongPx = ({ ax, ay, ux, uy }: Stroke, x: number, y: number): number => (x - ax) * ux + (y - ay) * uy;
/** How far beside a stroke a spot lies; positive on the side of the normal (-uy, ux). */
export const asidePx = ({ ax, ay, ux, uy }: Stroke, x: number, y: number): number => (y - ay) * ux - (x - ax) * uy;

/** The distance of a spot from a stroke, in px. */
export function distancePx(stroke: Stroke, x: number, y: number): number {
  const at = alongPx(stroke, x, y);
  const over = at < 0 ? -at : at > stroke.lengthPx ? at - stroke.lengthPx : 0;
  return Math.hypot(over, asidePx(stroke, x, y));
}

/** Strokes found by where they pass: cells of a size, each with the strokes that run through it. */
export class StrokeGrid<T extends Stroke> {
  private readonly cells = new Map<number, T[]>();
  constructor(
    strokes: readonly T[],
    private readonly cellPx: number,
  ) {
    for (const stroke of strokes) this.add(stroke);
  }

  add(stroke: T): void {
    for (const key of this.keysOf(stroke)) {
      const cell = this.cells.get(key);
      if (cell === undefined) this.cells.set(key, [stroke]);
      else cell.push(stroke);
    }
  }

  remove(stroke: T): void {
    for (const key of this.keysOf(stroke)) {
      const cell = this.cells.get(key)!;
      cell.splice(cell.indexOf(stroke), 1);
    }
  }

  private keysOf({ ax, ay, ux, uy, lengthPx }: Stroke): Set<number> {
    const keys = new Set<number>();
    const steps = Math.max(1, Math.ceil((2 * lengthPx) / this.cellPx));
    for (let s = 0; s <= steps; s++) keys.add(this.keyOf(ax + (ux * lengthPx * s) / steps, ay + (uy * lengthPx * s) / steps));
    return keys;
  }

  private keyOf(x: number, y: number): number {
    return (Math.floor(y / this.cellPx) + 8) * 65_536 + Math.floor(x / this.cellPx) + 8;
  }

  /** Strokes that may pass within a cell's size of a spot. */
  near(x: number, y: number): Set<T> {
    const found = new Set<T>();
    const key = this.keyOf(x, y);
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) for (const stroke of this.cells.get(key + dy * 65_536 + dx) ?? []) found.add(stroke);
    return found;
  }

  /** Strokes that may pass within a cell's size of a stroke. */
  along(stroke: Stroke): Set<T> {
    const found = new Set<T>();
    for (const key of this.keysOf(stroke))
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) for (const other of this.cells.get(key + dy * 65_536 + dx) ?? []) found.add(other);
    return found;
  }
}

/** What makes two strokes one: how far they may be apart along and aside (px) and in direction (cosine), and what else must agree. */
export type JoinRule<T> = Readonly<{ gapPx: number; asidePx: (p: T, q: T) => number; cos: (p: T, q: T) => number; alike: (p: T, q: T) => boolean }>;

/**
 * Joins strokes that continue one another, longest first, until nothing joins. Strokes that overlap along their length are one only where they lie on one
 * another within the rule. `make` makes the joined one out of two.
 */
export function chained<T extends Stroke>(strokes: readonly T[], rule: JoinRule<T>, make: (p: T, q: T) => T): T[] {
  const alive = new Set<T>([...strokes].sort((p, q) => q.lengthPx - p.lengthPx));
  const grid = new StrokeGrid<T>([...alive], Math.max(16, rule.gapPx));
  for (const start of alive) {
    let stroke = start;
    for (let other = partner(stroke, grid, rule); other !== null; other = partner(stroke, grid, rule)) {
      const whole = make(stroke, other);
      for (const gone of [stroke, other]) {
        alive.delete(gone);
        grid.remove(gone);
      }
      alive.add(whole);
      grid.add(whole);
      stroke = whole;
    }
  }
  return [...alive];
}

function partner<T extends Stroke>(stroke: T, grid: StrokeGrid<T>, { gapPx, asidePx: apart, cos, alike }: JoinRule<T>): T | null {
  let best: T | null = null;
  let nearest = Infinity;
  for (const [x, y] of [
    [stroke.ax, stroke.ay],
    [stroke.bx, stroke.by],
  ] as const)
    for (const other of grid.near(x, y)) {
      if (other === stroke || !alike(stroke, other)) continue;
      if (Math.abs(stroke.ux * other.ux + stroke.uy * other.uy) < cos(stroke, other)) continue;
      const [p, q] = [alongPx(stroke, other.ax, other.ay), alongPx(stroke, other.bx, other.by)];
      const gap = Math.max(Math.min(p, q) - stroke.lengthPx, -Math.max(p, q));
      if (gap > gapPx || gap >= nearest) continue;
      // Judged at the end that is nearer to this stroke: a short one says little of its direction.
      const near = Math.abs(p - stroke.lengthPx / 2) < Math.abs(q - stroke.lengthPx / 2) ? [other.ax, other.ay] : [other.bx, other.by];
      const middle = [(other.ax + other.bx) / 2, (other.ay + other.by) / 2];
      const limit = apart(stroke, other);
      if (Math.abs(asidePx(stroke, near[0]!, near[1]!)) > limit || Math.abs(asidePx(stroke, middle[0]!, middle[1]!)) > 1.5 * limit) continue;
      best = other;
      nearest = gap;
    }
  return best;
}
