import { segmentOf, wallLengthM, type Wall } from '../building/wall';
import { UpperRoomError } from '../errors';
import { distanceM, type PointM } from '../geometry/point';
import { alongM, asideM, crossingOf, distanceToM, spotAlong } from '../geometry/segment';
import { existing, round } from './commands';
import { onFloor, type Design, type Opening } from './design';
import { LIMITS } from './limits';
import { change, type Change } from './step';

/** Commands on walls, pure as all commands are. */

/** Ends this near lie on the same spot: positions are kept to the millimetre. */
const TOUCH_M = 0.002;
/** Lines this near are one line. */
const IN_LINE_M = 0.02;

export type WallEnd = 'a' | 'b';
export const endOf = (wall: Wall, end: WallEnd): PointM => segmentOf(wall)[end];
const touch = (p: PointM, q: PointM): boolean => distanceM(p, q) <= TOUCH_M;

const withEnds = (wall: Wall, a: PointM, b: PointM): Wall => ({ ...wall, axM: round(a.xM), ayM: round(a.yM), bxM: round(b.xM), byM: round(b.yM) });

/** @throws UpperRoomError RECORD_INVALID for a wall that is too short */
function checked(wall: Wall): Wall {
  if (!(wallLengthM(wall) >= LIMITS.wallLengthM.min)) throw new UpperRoomError('RECORD_INVALID', { field: 'length', minM: LIMITS.wallLengthM.min });
  return wall;
}

/** Openings of one wall, from end A on. */
export const openingsIn = (design: Design, wallId: string): Opening[] =>
  Object.values(design.openings)
    .filter((opening) => opening.wallId === wallId)
    .sort((p, q) => p.atM - q.atM);

export type NewWall = Pick<Wall, 'id' | 'floorId' | 'axM' | 'ayM' | 'bxM' | 'byM' | 'materialId'>;

/** Draws a wall over the full height of its floor. A wall without length is refused. @throws UpperRoomError RECORD_INVALID */
export function addWall(design: Design, args: NewWall): Change[] {
  const { ceilingM } = existing(design, 'floors', args.floorId);
  const { a, b } = segmentOf(args);
  return change('walls', args.id, null, checked(withEnds({ ...args, baseM: 0, topM: ceilingM }, a, b)));
}

/** Draws walls one after the other through all corners. Pieces too short to be walls are refused. @throws UpperRoomError WALL_TOO_SHORT */
export const addChain = (
  design: Design,
  { floorId, materialId, corners }: { floorId: string; materialId: string; corners: readonly PointM[] },
  newId: () => string,
): Change[] =>
  corners
    .slice(1)
    .flatMap((b, i) => addWall(design, { id: newId(), floorId, materialId, axM: corners[i]!.xM, ayM: corners[i]!.yM, bxM: b.xM, byM: b.yM }));

/** Draws the four walls of a rectangular room between two corners, each but for the pieces that stand already. */
export function addRoom(
  design: Design,
  { floorId, materialId, from, to }: { floorId: string; materialId: string; from: PointM; to: PointM },
  newId: () => string,
): Change[] {
  const corners: PointM[] = [from, { xM: to.xM, yM: from.yM }, to, { xM: from.xM, yM: to.yM }];
  const standing = onFloor(design, 'walls', floorId);
  return corners.flatMap((a, i) =>
    piecesBeside(a, corners[(i + 1) % 4]!, standing).flatMap((piece) =>
      addWall(design, { id: newId(), floorId, materialId, axM: piece.a.xM, ayM: piece.a.yM, bxM: piece.b.xM, byM: piece.b.yM }),
    ),
  );
}

/** What is left of a line where walls on it are taken out. */
function piecesBeside(a: PointM, b: PointM, walls: readonly Wall[]): Array<{ a: PointM; b: PointM }> {
  const line = { a, b };
  const lengthM = distanceM(a, b);
  const taken = walls
    .map(segmentOf)
    .filter((wall) => Math.abs(asideM(line, wall.a)) < IN_LINE_M && Math.abs(asideM(line, wall.b)) < IN_LINE_M)
    .map((wall) => [alongM(line, wall.a), alongM(line, wall.b)].sort((p, q) => p - q) as [number, number])
    .sort((p, q) => p[0] - q[0]);
  const pieces: Array<[number, number]> = [];
  let atM = 0;
  for (const [from, to] of taken) {
    if (from > atM) pieces.push([atM, Math.min(from, lengthM)]);
    atM = Math.max(atM, to);
  }
  if (atM < lengthM) pieces.push([atM, lengthM]);
  return pieces
    .filter(([from, to]) => to - from >= LIMITS.wallLengthM.min)
    .map(([from, to]) => ({ a: spotAlong(line, from), b: spotAlong(line, to) }));
}

/** How the walls around go along: those that share an end or butt against what moves, or none. */
export type Follow = 'neighbours' | 'none';

/**
 * Moves walls by a distance, or one end of one. Openings keep their distance from the end that stays. Neighbours that share an end go along with it; one that
 * butts against a moved wall is made longer or shorter in its own direction until it meets it again.
 * @throws UpperRoomError RECORD_INVALID for a wall that would be too short
 */
export function moveWalls(design: Design, ids: readonly string[], part: 'whole' | WallEnd, dxM: number, dyM: number, follow: Follow): Change[] {
  const by = (p: PointM): PointM => ({ xM: p.xM + dxM, yM: p.yM + dyM });
  const own = ids.map((id) => existing(design, 'walls', id));
  const moved = own.map((wall) => {
    const { a, b } = segmentOf(wall);
    return checked(withEnds(wall, part === 'b' ? a : by(a), part === 'a' ? b : by(b)));
  });
  const changes = own.flatMap((wall, i) => reshaped(design, wall, moved[i]!));
  if (follow === 'none') return changes;
  const chosen = new Set(ids);
  const corners = own.flatMap((wall) => (part === 'whole' ? [endOf(wall, 'a'), endOf(wall, 'b')] : [endOf(wall, part)]));
  const floors = new Set(own.map((wall) => wall.floorId));
  for (const neighbour of Object.values(design.walls)) {
    if (chosen.has(neighbour.id) || !floors.has(neighbour.floorId)) continue;
    const next = (end: WallEnd): PointM => {
      const at = endOf(neighbour, end);
      if (corners.some((corner) => touch(corner, at))) return by(at);
      const met = own.findIndex((wall) => wall.floorId === neighbour.floorId && onBody(wall, at));
      return met < 0 ? at : (crossingOf(segmentOf(neighbour), segmentOf(moved[met]!)) ?? at);
    };
    const [a, b] = [next('a'), next('b')];
    if (a !== endOf(neighbour, 'a') || b !== endOf(neighbour, 'b')) changes.push(...reshaped(design, neighbour, checked(withEnds(neighbour, a, b))));
  }
  return changes;
}

/** A wall in its new shape. Its openings stay as far from the end that stays as they were, or as near as the wall is long. */
function reshaped(design: Design, wall: Wall, next: Wall): Change[] {
  const grownM = wallLengthM(next) - wallLengthM(wall);
  const byM = touch(endOf(wall, 'b'), endOf(next, 'b')) ? grownM : 0;
  const openings = Math.abs(grownM) < 1e-9 ? [] : openingsIn(design, wall.id);
  return [
    ...change('walls', wall.id, wall, next),
    ...openings.flatMap((opening) => {
      const atM = round(Math.max(0, Math.min(opening.atM + byM, wallLengthM(next) - opening.widthM)));
      return atM === opening.atM ? [] : change('openings', opening.id, opening, { ...opening, atM });
    }),
  ];
}

const onBody = (wall: Wall, at: PointM): boolean => distanceToM(segmentOf(wall), at) < IN_LINE_M;

/** Cuts a wall in two at the foot of a spot on it. Openings go with the piece they lie in. @throws UpperRoomError OPENING_NO_ROOM, RECORD_INVALID */
export function splitWall(design: Design, id: string, at: PointM, newId: string): Change[] {
  const wall = existing(design, 'walls', id);
  const line = segmentOf(wall);
  const cutM = alongM(line, at);
  const cut = spotAlong(line, cutM);
  const first = checked(withEnds(wall, line.a, cut));
  const second = checked({ ...withEnds(wall, cut, line.b), id: newId });
  const openings = openingsIn(design, id);
  if (openings.some(({ atM, widthM }) => atM < cutM && atM + widthM > cutM))
    throw new UpperRoomError('OPENING_NO_ROOM', { what: 'the cut lies in an opening' });
  return [
    ...change('walls', newId, null, second),
    ...openings
      .filter(({ atM }) => atM >= cutM)
      .flatMap((opening) => change('openings', opening.id, opening, { ...opening, wallId: newId, atM: round(opening.atM - cutM) })),
    ...change('walls', id, wall, first),
  ];
}

/** Makes one wall of two that lie in line, touch, and are alike. @throws UpperRoomError WALLS_NOT_JOINED */
export function joinWalls(design: Design, id: string, otherId: string): Change[] {
  const wall = existing(design, 'walls', id);
  const other = existing(design, 'walls', otherId);
  const line = segmentOf(wall);
  const ends = segmentOf(other);
  const alike = wall.floorId === other.floorId && wall.materialId === other.materialId && wall.baseM === other.baseM && wall.topM === other.topM;
  const inLine = Math.abs(asideM(line, ends.a)) < IN_LINE_M && Math.abs(asideM(line, ends.b)) < IN_LINE_M;
  const meet = [line.a, line.b].some((p) => touch(p, ends.a) || touch(p, ends.b));
  if (!alike || !inLine || !meet) throw new UpperRoomError('WALLS_NOT_JOINED');
  const spots = [line.a, line.b, ends.a, ends.b].sort((p, q) => alongM(line, p) - alongM(line, q));
  const whole = withEnds(wall, spots[0]!, spots[3]!);
  const joined = segmentOf(whole);
  const placed = (opening: Opening, of: typeof line): Change[] => {
    const from = alongM(joined, spotAlong(of, opening.atM));
    const to = alongM(joined, spotAlong(of, opening.atM + opening.widthM));
    const turned = to < from;
    return change('openings', opening.id, opening, {
      ...opening,
      wallId: id,
      atM: round(Math.max(0, Math.min(from, to))),
      hinge: turned ? (opening.hinge === 'a' ? 'b' : 'a') : opening.hinge,
      swing: turned ? (opening.swing === 'left' ? 'right' : 'left') : opening.swing,
    });
  };
  return [
    ...change('walls', id, wall, whole),
    ...openingsIn(design, id).flatMap((opening) => placed(opening, line)),
    ...openingsIn(design, otherId).flatMap((opening) => placed(opening, ends)),
    ...change('walls', otherId, other, null),
  ];
}

/** Draws walls beside others at a distance: to the right of the way from A to B, or to the left where it is negative. Openings stay where they are. */
export function offsetWalls(design: Design, ids: readonly string[], byM: number, newId: () => string): Change[] {
  return ids.flatMap((id) => {
    const wall = existing(design, 'walls', id);
    const { a, b } = segmentOf(wall);
    const lengthM = distanceM(a, b);
    const aside = (p: PointM): PointM => ({ xM: p.xM - ((b.yM - a.yM) / lengthM) * byM, yM: p.yM + ((b.xM - a.xM) / lengthM) * byM });
    const copy = { ...withEnds(wall, aside(a), aside(b)), id: newId() };
    return change('walls', copy.id, null, copy);
  });
}

/** Copies walls with their openings, to the same floor or another, moved by a distance and mirrored on request about the middle of what is copied. */
export function copyWalls(
  design: Design,
  ids: readonly string[],
  { floorId, dxM, dyM, mirror = null }: { floorId: string; dxM: number; dyM: number; mirror?: 'x' | 'y' | null },
  newId: () => string,
): Change[] {
  const walls = ids.map((id) => existing(design, 'walls', id));
  const mean = (values: readonly number[]): number => (Math.min(...values) + Math.max(...values)) / 2;
  const middle = { xM: mean(walls.flatMap((w) => [w.axM, w.bxM])), yM: mean(walls.flatMap((w) => [w.ayM, w.byM])) };
  const placed = ({ xM, yM }: PointM): PointM => ({
    xM: (mirror === 'x' ? 2 * middle.xM - xM : xM) + dxM,
    yM: (mirror === 'y' ? 2 * middle.yM - yM : yM) + dyM,
  });
  return walls.flatMap((wall) => {
    const { a, b } = segmentOf(wall);
    const copy = { ...withEnds(wall, placed(a), placed(b)), id: newId(), floorId };
    return [
      ...change('walls', copy.id, null, copy),
      ...openingsIn(design, wall.id).flatMap((opening) => {
        const id = newId();
        // A mirrored door opens to the other side of its wall.
        const swing = mirror === null ? opening.swing : opening.swing === 'left' ? 'right' : 'left';
        return change('openings', id, null, { ...opening, id, wallId: copy.id, swing });
      }),
    ];
  });
}

/** Makes an end of a wall longer or shorter until it meets the line of another. @throws UpperRoomError WALLS_PARALLEL, RECORD_INVALID */
export function meetWall(design: Design, id: string, otherId: string): Change[] {
  const wall = existing(design, 'walls', id);
  const line = segmentOf(wall);
  const met = crossingOf(line, segmentOf(existing(design, 'walls', otherId)));
  if (met === null) throw new UpperRoomError('WALLS_PARALLEL');
  const part: WallEnd = distanceM(met, line.a) < distanceM(met, line.b) ? 'a' : 'b';
  const lostM = part === 'a' ? alongM(line, met) : 0;
  const next = checked(part === 'a' ? withEnds(wall, met, line.b) : withEnds(wall, line.a, met));
  return [
    ...change('walls', id, wall, next),
    // Openings stay at their places on the plan; those beyond the new end go.
    ...openingsIn(design, id).flatMap((opening) => {
      const atM = round(opening.atM - lostM);
      return atM < 0 || atM + opening.widthM > wallLengthM(next) + TOUCH_M
        ? change('openings', opening.id, opening, null)
        : change('openings', opening.id, opening, { ...opening, atM });
    }),
  ];
}

/** Whether two walls of a floor meet, end to end or butting. Boxes first: most walls are nowhere near. */
function meet(wall: Wall, other: Wall): boolean {
  if (wall.floorId !== other.floorId) return false;
  const apart = (a: number, b: number, c: number, d: number): boolean =>
    Math.max(a, b) + IN_LINE_M < Math.min(c, d) || Math.max(c, d) + IN_LINE_M < Math.min(a, b);
  if (apart(wall.axM, wall.bxM, other.axM, other.bxM) || apart(wall.ayM, wall.byM, other.ayM, other.byM)) return false;
  return (['a', 'b'] as const).some((end) => onBody(wall, endOf(other, end)) || onBody(other, endOf(wall, end)));
}

/** All walls that hang together with some, end to end or butting. */
export function connectedWalls(design: Design, ids: readonly string[]): string[] {
  const found = new Set(ids);
  const queue = ids.map((id) => existing(design, 'walls', id));
  // What is found is looked at no more: on a floor of thousands each look is at fewer.
  let others = Object.values(design.walls).filter(({ id }) => !found.has(id));
  for (let wall = queue.pop(); wall !== undefined; wall = queue.pop()) {
    const rest: Wall[] = [];
    for (const other of others) {
      if (!meet(wall, other)) rest.push(other);
      else {
        found.add(other.id);
        queue.push(other);
      }
    }
    others = rest;
  }
  return [...found];
}
