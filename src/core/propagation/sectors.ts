import type { Panes } from '../building/panes';

/** Panes by the directions in which they stand seen from one spot: a ray can meet only those of its own sector. Those of sector s stand from `starts[s]` up to `starts[s + 1]`, in their order. */
export type Sectors = Readonly<{ starts: Int32Array; panes: Int32Array }>;

const SECTORS = 64;
/** A turn, in the measure of `turnOf`. */
const TURN = 4;
/** Panes are listed by so much more than they take up: far above rounding. */
const MARGIN = 1e-6;

/** A direction as a number from 0 to 4 that grows with its angle, and by just 2 for the opposite one: as good as the angle for an order, and had without a function of angles. */
function turnOf(dx: number, dy: number): number {
  const sum = Math.abs(dx) + Math.abs(dy);
  if (sum === 0) return 0;
  const along = dx / sum;
  return dy >= 0 ? 1 - along : 3 + along;
}

/** The sector in which a direction lies. */
export const sectorOf = (dx: number, dy: number): number => Math.min(SECTORS - 1, Math.floor((turnOf(dx, dy) / TURN) * SECTORS));

/** The sectors of some panes seen from (ax, ay), which lies on none of them. */
export function sectorsFrom({ count, ends }: Panes, ax: number, ay: number): Sectors {
  // Of each pane the first and the last sector; the first may be less than 0, for they go round.
  const [first, last] = [new Int32Array(count), new Int32Array(count)];
  const starts = new Int32Array(SECTORS + 1);
  for (let p = 0; p < count; p++) {
    const one = turnOf(ends[p * 4]! - ax, ends[p * 4 + 1]! - ay);
    const other = turnOf(ends[p * 4 + 2]! - ax, ends[p * 4 + 3]! - ay);
    const low = Math.min(one, other);
    const high = Math.max(one, other);
    // A pane takes up less than half a turn: the shorter way from the one end to the other.
    const direct = high - low <= TURN / 2;
    const from = direct ? low : high;
    const span = direct ? high - low : TURN - (high - low);
    first[p] = Math.floor(((from - MARGIN) / TURN) * SECTORS);
    last[p] = Math.floor(((from + span + MARGIN) / TURN) * SECTORS);
    for (let s = first[p]!; s <= last[p]!; s++) starts[((s + SECTORS) % SECTORS) + 1]!++;
  }
  for (let s = 0; s < SECTORS; s++) starts[s + 1]! += starts[s]!;
  const panes = new Int32Array(starts[SECTORS]!);
  const next = starts.slice();
  for (let p = 0; p < count; p++) for (let s = first[p]!; s <= last[p]!; s++) panes[next[(s + SECTORS) % SECTORS]!++] = p;
  return { starts, panes };
}
