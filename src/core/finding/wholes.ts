import type { Piece } from './accept';
import type { FoundDoor } from './doors';
import { jambsOf } from './prune';
import { alongPx, asidePx, joined, strokeOf } from './stroke';
import { spanOn, type FoundWindow } from './windows';

/** An opening in a found wall, along it from its end a in px. A door says where it hangs and to which side it opens, seen from a to b. */
export type FoundOpening = Readonly<{
  kind: 'door' | 'window';
  atPx: number;
  widthPx: number;
  hinge: 'a' | 'b';
  swing: 'left' | 'right';
}>;

/** A wall as it was found, in px of the picture. `confidence`: a rating of 0 to 1 that orders them; no measured share. */
export type FoundWall = Readonly<{
  ax: number;
  ay: number;
  bx: number;
  by: number;
  thickPx: number;
  confidence: number;
  openings: readonly FoundOpening[];
}>;

type Gap = FoundWindow & Readonly<{ door: FoundDoor | null }>;

type Whole = Piece & { confidence: number };

/** How far a gap's edges may lie beside a wall's face, and how near two openings are one, in m. */
const BESIDE_M = 0.15;
/** How far a wall's end may be from a gap that is in it, in m. */
const SHORT_OF_M = 0.4;

/** Walls that doors and windows part are one wall with openings in it. */
export function withOpenings(
  pieces: readonly Piece[],
  doors: readonly FoundDoor[],
  windows: readonly FoundWindow[],
  sure: ReadonlyMap<Piece, number>,
  pxPerM: number,
): FoundWall[] {
  const gaps: Gap[] = [
    ...doors.map((door): Gap => {
      const [[ax, ay], [bx, by]] = jambsOf(door) as [readonly [number, number], readonly [number, number]];
      return { ax, ay, bx, by, door };
    }),
    ...windows.map((window): Gap => ({ ...window, door: null })),
  ];
  let wholes: readonly Whole[] = pieces.map((piece) => ({ ...piece, confidence: sure.get(piece)! }));
  const placed: Gap[] = [];
  for (const gap of gaps) {
    const bridged = bridgedAt(gap, wholes, pxPerM);
    if (bridged === null) continue;
    wholes = bridged;
    placed.push(gap);
  }
  const openings = openingsOf(placed, wholes, pxPerM);
  // What is hardly more than its doors is no wall.
  const open = (wall: Whole): number => (openings.get(wall) ?? []).reduce((sum, { kind, widthPx }) => sum + (kind === 'door' ? widthPx : 0), 0);
  const standing = wholes.filter((wall) => wall.lengthPx - open(wall) >= Math.max(0.25 * pxPerM, 0.2 * open(wall)));
  return standing.map((wall) => ({
    ax: wall.ax,
    ay: wall.ay,
    bx: wall.bx,
    by: wall.by,
    thickPx: wall.thickPx,
    confidence: wall.confidence,
    openings: (openings.get(wall) ?? []).sort((p, q) => p.atPx - q.atPx),
  }));
}

/** The walls when those on either side of a gap are one that reaches over it; null where no wall is near. */
function bridgedAt(gap: Gap, wholes: readonly Whole[], pxPerM: number): readonly Whole[] | null {
  const length = Math.hypot(gap.bx - gap.ax, gap.by - gap.ay);
  const [ux, uy] = [(gap.bx - gap.ax) / length, (gap.by - gap.ay) / length];
  const inLine = wholes.filter(
    (wall) =>
      Math.abs(wall.ux * ux + wall.uy * uy) > 0.97 &&
      Math.max(Math.abs(asidePx(wall, gap.ax, gap.ay)), Math.abs(asidePx(wall, gap.bx, gap.by))) <= BESIDE_M * pxPerM + wall.thickPx / 2,
  );
  // How far the wall is from reaching over the gap, on either side; nothing where it already does.
  const [first, second] = inLine
    .map((wall) => {
      const [from, to] = spanOn(wall, gap);
      return { wall, missing: Math.max(0, from - wall.lengthPx, -to) };
    })
    .filter(({ missing }) => missing <= SHORT_OF_M * pxPerM)
    .sort((p, q) => p.missing - q.missing)
    .map(({ wall }) => wall);
  if (first === undefined) return null;
  const alike = second !== undefined && Math.max(first.thickPx, second.thickPx) <= 1.7 * Math.min(first.thickPx, second.thickPx);
  const whole: Whole = alike
    ? {
        ...(first.lengthPx >= second.lengthPx ? first : second),
        ...joined(first, second),
        confidence: (first.confidence * first.lengthPx + second.confidence * second.lengthPx) / (first.lengthPx + second.lengthPx),
      }
    : first;
  const [from, to] = spanOn(whole, gap);
  const [low, high] = [Math.min(0, from), Math.max(whole.lengthPx, to)];
  const reaching: Whole = {
    ...whole,
    ...strokeOf(whole.ax + whole.ux * low, whole.ay + whole.uy * low, whole.ax + whole.ux * high, whole.ay + whole.uy * high, whole.thickPx),
  };
  return [...wholes.filter((wall) => wall !== first && !(alike && wall === second)), reaching];
}

/** The openings of each wall: the gaps that lie on it. */
function openingsOf(gaps: readonly Gap[], wholes: readonly Whole[], pxPerM: number): Map<Whole, FoundOpening[]> {
  const openings = new Map<Whole, FoundOpening[]>();
  for (const gap of gaps) {
    const [x, y] = [(gap.ax + gap.bx) / 2, (gap.ay + gap.by) / 2];
    const length = Math.hypot(gap.bx - gap.ax, gap.by - gap.ay);
    const wall = wholes.find(
      (one) =>
        Math.abs(one.ux * (gap.bx - gap.ax) + one.uy * (gap.by - gap.ay)) > 0.97 * length &&
        Math.abs(asidePx(one, x, y)) <= BESIDE_M * pxPerM + one.thickPx / 2 &&
        alongPx(one, x, y) > 0 &&
        alongPx(one, x, y) < one.lengthPx,
    );
    if (wall === undefined) continue;
    const [from, to] = spanOn(wall, gap).map((at) => Math.max(0, Math.min(wall.lengthPx, at))) as [number, number];
    const list = openings.get(wall) ?? [];
    const hanging = hangingOf(wall, gap.door);
    const other = list.findIndex(({ atPx, widthPx }) => from < atPx + widthPx + BESIDE_M * pxPerM && to > atPx - BESIDE_M * pxPerM);
    if (other < 0) list.push({ atPx: from, widthPx: to - from, ...hanging });
    // Two leaves that meet are one door.
    else if (hanging.kind === 'door' && list[other]!.kind === 'door') {
      const { atPx, widthPx } = list[other]!;
      list[other] = { ...list[other]!, atPx: Math.min(atPx, from), widthPx: Math.max(atPx + widthPx, to) - Math.min(atPx, from) };
    }
    openings.set(wall, list);
  }
  return openings;
}

function hangingOf(wall: Piece, door: FoundDoor | null): Pick<FoundOpening, 'kind' | 'hinge' | 'swing'> {
  if (door === null) return { kind: 'window', hinge: 'a', swing: 'left' };
  return {
    kind: 'door',
    hinge: wall.ux * door.ux + wall.uy * door.uy > 0 ? 'a' : 'b',
    // y runs downwards on a sheet: left of the way from a to b is against the normal (-uy, ux).
    swing: -wall.uy * door.ox + wall.ux * door.oy > 0 ? 'right' : 'left',
  };
}
