import type { Band } from './bands';
import { alongPx, asidePx, type Stroke } from './stroke';

/** What is no wall and known by how it is drawn: a flight of stairs, or a lift's car. Its corners go round, in px. */
export type FoundFitting = Readonly<{ kind: 'stairs' | 'lift'; corners: ReadonlyArray<Readonly<{ x: number; y: number }>> }>;

/** Thin lines hold no more ink than this many of the sheet's own lines. */
const THIN_LINES = 2.2;
/** The going of a step, and how wide a flight is, in m. ISO 21542 asks for a going of 0.26 to 0.30 m and more; older and private ones go beyond. */
const GOING_M = { min: 0.21, max: 0.38 };
const FLIGHT_M = { min: 0.6, max: 4 };
/** So many lines in a row are treads. */
const TREADS = 5;
/** Sides of a lift's car, in m: from one wheelchair (ISO 8100-30) to a goods lift. */
const CAR_M = { min: 0.9, max: 3.5 };

const COS_ALIKE = Math.cos((4 * Math.PI) / 180);
const middleOf = ({ ax, ay, bx, by }: Stroke): readonly [number, number] => [(ax + bx) / 2, (ay + by) / 2];

/** Finds stairs, as equal lines one going apart, and lifts, as a box with both its diagonals. */
export function fittingsOf(bands: readonly Band[], linePx: number, pxPerM: number): FoundFitting[] {
  const lines = bands.filter(({ inside, thickPx }) => inside === 'bar' && thickPx < THIN_LINES * linePx);
  return [...stairsIn(lines, pxPerM), ...liftsIn(lines, pxPerM)];
}

/** Where a line lies beside another as the next tread would: how far aside; null where it does not. */
function stepFrom(tread: Stroke, line: Stroke): number | null {
  if (Math.abs(tread.ux * line.ux + tread.uy * line.uy) < COS_ALIKE) return null;
  if (Math.max(tread.lengthPx, line.lengthPx) > 1.2 * Math.min(tread.lengthPx, line.lengthPx)) return null;
  const [mx, my] = middleOf(line);
  return Math.abs(alongPx(tread, mx, my) - tread.lengthPx / 2) > 0.15 * tread.lengthPx ? null : asidePx(tread, mx, my);
}

function stairsIn(lines: readonly Stroke[], pxPerM: number): FoundFitting[] {
  const treads = lines.filter(({ lengthPx }) => lengthPx >= FLIGHT_M.min * pxPerM && lengthPx <= FLIGHT_M.max * pxPerM);
  const used = new Set<Stroke>();
  const found: FoundFitting[] = [];
  for (const first of treads) {
    if (used.has(first)) continue;
    const flight = flightFrom(first, treads, used, pxPerM);
    if (flight.length < TREADS) continue;
    flight.forEach((tread) => used.add(tread));
    const [top, bottom] = [flight[0]!, flight.at(-1)!];
    const same = top.ux * bottom.ux + top.uy * bottom.uy > 0;
    const ends = [
      { x: top.ax, y: top.ay },
      { x: top.bx, y: top.by },
    ];
    const others = [
      { x: bottom.bx, y: bottom.by },
      { x: bottom.ax, y: bottom.ay },
    ];
    found.push({ kind: 'stairs', corners: [...ends, ...(same ? others : others.reverse())] });
  }
  return found;
}

/** The nearest line that lies as the next tread would, to one side (1 or -1) of a tread: hatching has one nearer than any going. Null without one. */
function nextTread(tread: Stroke, side: number, lines: readonly Stroke[]): { line: Stroke; stepPx: number } | null {
  let best: { line: Stroke; stepPx: number } | null = null;
  for (const line of lines) {
    const step = line === tread ? null : stepFrom(tread, line);
    // Two edges of one line may be told apart by a px.
    if (step !== null && step * side > 2 && (best === null || step * side < best.stepPx)) best = { line, stepPx: step * side };
  }
  return best;
}

/** The row of treads through a line: to both sides, as far as they keep the going of the first step. */
function flightFrom(first: Stroke, treads: readonly Stroke[], used: ReadonlySet<Stroke>, pxPerM: number): Stroke[] {
  const flight = [first];
  let going: number | null = null;
  for (const side of [1, -1]) {
    let [last, way] = [first, side];
    for (;;) {
      const next = nextTread(last, way, treads);
      if (next === null || used.has(next.line) || next.stepPx < GOING_M.min * pxPerM || next.stepPx > GOING_M.max * pxPerM) break;
      going ??= next.stepPx;
      if (Math.abs(next.stepPx / going - 1) > 0.15) break;
      if (side === 1) flight.push(next.line);
      else flight.unshift(next.line);
      // The next line may run the other way: then what lay ahead lies on its other side.
      if (last.ux * next.line.ux + last.uy * next.line.uy < 0) way = -way;
      last = next.line;
    }
  }
  return flight;
}

function liftsIn(lines: readonly Stroke[], pxPerM: number): FoundFitting[] {
  const shortest = Math.SQRT2 * CAR_M.min * pxPerM;
  const longest = Math.SQRT2 * CAR_M.max * pxPerM;
  const diagonals = lines.filter(({ lengthPx }) => lengthPx > 0.9 * shortest && lengthPx < 1.1 * longest);
  const found: FoundFitting[] = [];
  diagonals.forEach((p, i) => {
    for (const q of diagonals.slice(i + 1)) {
      const [px, py] = middleOf(p);
      const [qx, qy] = middleOf(q);
      if (Math.hypot(px - qx, py - qy) > 0.05 * p.lengthPx || Math.abs(p.lengthPx / q.lengthPx - 1) > 0.06) continue;
      const corners = [
        { x: p.ax, y: p.ay },
        { x: q.ax, y: q.ay },
        { x: p.bx, y: p.by },
        { x: q.bx, y: q.by },
      ];
      const sides = [0, 1].map((s) => Math.hypot(corners[s]!.x - corners[s + 1]!.x, corners[s]!.y - corners[s + 1]!.y) / pxPerM);
      if (Math.min(...sides) < CAR_M.min || Math.max(...sides) > CAR_M.max) continue;
      // A cross stands in many places; a lift's car has its sides drawn as well.
      if (corners.every((corner, s) => hasLine(lines, corner, corners[(s + 1) % 4]!))) found.push({ kind: 'lift', corners });
    }
  });
  return found;
}

type Spot = Readonly<{ x: number; y: number }>;

/** Whether a line runs from spot to spot, give or take a tenth. */
function hasLine(lines: readonly Stroke[], a: Spot, b: Spot): boolean {
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  return lines.some((line) => {
    if (Math.abs(line.ux * (b.x - a.x) + line.uy * (b.y - a.y)) < COS_ALIKE * length) return false;
    const [p, q] = [alongPx(line, a.x, a.y), alongPx(line, b.x, b.y)];
    const covered = Math.min(line.lengthPx, Math.max(p, q)) - Math.max(0, Math.min(p, q));
    return covered > 0.8 * length && Math.abs(asidePx(line, (a.x + b.x) / 2, (a.y + b.y) / 2)) < 0.1 * length;
  });
}
