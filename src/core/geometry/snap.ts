import { distanceM, type PointM } from './point';
import { alongM, asideM, crossingOf, distanceToM, nearestOn, spotAlong, type SegmentM } from './segment';

/** The nearest of some spots within `reachM` of a spot; null when none is. */
export function nearestSpot(at: PointM, spots: Iterable<PointM>, reachM: number): PointM | null {
  let best: PointM | null = null;
  let bestM = reachM;
  for (const spot of spots) {
    const away = distanceM(at, spot);
    if (away >= bestM) continue;
    best = spot;
    bestM = away;
  }
  return best;
}

/** The spot at the same distance from `fromM`, in the nearest direction that is a whole number of steps. */
export function alongSteps(fromM: PointM, at: PointM, stepDeg: number): PointM {
  const step = (stepDeg * Math.PI) / 180;
  const angle = Math.round(Math.atan2(at.yM - fromM.yM, at.xM - fromM.xM) / step) * step;
  const length = distanceM(fromM, at);
  return { xM: fromM.xM + length * Math.cos(angle), yM: fromM.yM + length * Math.sin(angle) };
}

/** What a spot was drawn to, from the strongest to the weakest. */
export const SNAP_MARKS = ['end', 'crossing', 'on line', 'square', 'parallel', 'in line', 'angle', 'grid'] as const;
export type SnapMark = (typeof SNAP_MARKS)[number];

export type Snapped = Readonly<{ at: PointM; mark: SnapMark | null }>;

/** What there is to be drawn to. */
export type SnapField = Readonly<{
  /** Walls and the pieces of the outline. */
  segments: readonly SegmentM[];
  /** Where the line being drawn begins; null for its first spot. */
  fromM: PointM | null;
  /** How far a spot may be drawn, in m. */
  reachM: number;
  /** Spots without anything near are put on this raster, in m; 0 for none. */
  gridM: number;
  /** The line keeps to whole steps of this angle; null lets it be. */
  stepDeg: number | null;
}>;

/**
 * Draws a spot to what an engineer most likely means: a wall's end or a crossing within reach; else a wall, there square to the line's start
 * where that is within reach too; else a direction square or parallel to a wall at the line's start, or in line with a wall's end; else the raster.
 */
export function snapSpot(at: PointM, { segments, fromM, reachM, gridM, stepDeg }: SnapField): Snapped {
  const near = segments.filter(({ a, b }) => withinBox(at, a, b, reachM));
  const end = nearestSpot(at, endsOf(near), reachM);
  if (end !== null) return { at: end, mark: 'end' };
  if (stepDeg !== null && fromM !== null) return steppedTo(alongSteps(fromM, at, stepDeg), fromM, near, reachM);
  const touching = near.filter((segment) => distanceToM(segment, at) < reachM);
  const crossing = nearestSpot(at, crossingsOf(touching), reachM);
  if (crossing !== null) return { at: crossing, mark: 'crossing' };
  const wall = nearestOf(touching, at);
  if (wall !== null) {
    if (fromM !== null) {
      const foot = spotAlong(wall, alongM(wall, fromM));
      if (distanceM(foot, fromM) > reachM && distanceM(foot, at) < reachM) return { at: foot, mark: 'square' };
      const straight = guideThrough(at, fromM, segments, reachM);
      const met = straight === null ? null : crossingOf({ a: fromM, b: straight.at }, wall);
      if (met !== null && distanceM(met, at) < reachM) return { at: met, mark: straight!.mark };
    }
    return { at: stepOn(wall, at, gridM, reachM), mark: 'on line' };
  }
  const guided = fromM === null ? null : guideThrough(at, fromM, segments, reachM);
  const raster = (m: number): number => Math.round(m / gridM) * gridM;
  if (guided !== null) {
    if (!(gridM > 0)) return guided;
    // Along the guide lengths are whole steps of the raster.
    const lengthM = raster(distanceM(fromM!, guided.at));
    return lengthM > 0 ? { at: spotAlong({ a: fromM!, b: guided.at }, lengthM), mark: guided.mark } : guided;
  }
  const inLine = lineUp(at, segments, reachM);
  if (inLine !== null) return inLine;
  return gridM > 0 ? { at: { xM: raster(at.xM), yM: raster(at.yM) }, mark: 'grid' } : { at, mark: null };
}

function steppedTo(stepped: PointM, fromM: PointM, near: readonly SegmentM[], reachM: number): Snapped {
  const met = near.flatMap((wall) => {
    const spot = crossingOf({ a: fromM, b: stepped }, wall);
    return spot !== null && distanceToM(wall, spot) < 1e-6 ? [spot] : [];
  });
  return { at: nearestSpot(stepped, met, reachM) ?? stepped, mark: 'angle' };
}

/** The nearest spot on a wall, a whole number of the raster's steps from where it begins where one is within reach. */
function stepOn(wall: SegmentM, at: PointM, gridM: number, reachM: number): PointM {
  const nearest = nearestOn(wall, at);
  if (!(gridM > 0)) return nearest;
  const stepped = spotAlong(wall, Math.min(distanceM(wall.a, wall.b), Math.round(distanceM(wall.a, nearest) / gridM) * gridM));
  return distanceM(stepped, nearest) < reachM ? stepped : nearest;
}

/** Square or parallel to a wall that begins or ends where the line does, or to the plan's own axes. */
function guideThrough(at: PointM, fromM: PointM, segments: readonly SegmentM[], reachM: number): Snapped | null {
  let best: Snapped | null = null;
  let bestM = reachM;
  const offer = (dx: number, dy: number, mark: SnapMark): void => {
    const guide = { a: fromM, b: { xM: fromM.xM + dx, yM: fromM.yM + dy } };
    const off = Math.abs(asideM(guide, at));
    if (off >= bestM) return;
    best = { at: spotAlong(guide, alongM(guide, at)), mark };
    bestM = off;
  };
  if (distanceM(at, fromM) < reachM) return null;
  for (const segment of segments) {
    if (distanceToM(segment, fromM) > 0.01) continue;
    const { a, b } = segment;
    offer(b.xM - a.xM, b.yM - a.yM, 'parallel');
    offer(a.yM - b.yM, b.xM - a.xM, 'square');
  }
  offer(1, 0, 'angle');
  offer(0, 1, 'angle');
  return best;
}

/** At the height or breadth of a wall's end. */
function lineUp(at: PointM, segments: readonly SegmentM[], reachM: number): Snapped | null {
  let x: number | null = null;
  let y: number | null = null;
  let [bestX, bestY] = [reachM / 2, reachM / 2];
  for (const spot of endsOf(segments)) {
    const [offX, offY] = [Math.abs(spot.xM - at.xM), Math.abs(spot.yM - at.yM)];
    if (offX < bestX) [x, bestX] = [spot.xM, offX];
    if (offY < bestY) [y, bestY] = [spot.yM, offY];
  }
  return x === null && y === null ? null : { at: { xM: x ?? at.xM, yM: y ?? at.yM }, mark: 'in line' };
}

const withinBox = (at: PointM, a: PointM, b: PointM, reachM: number): boolean =>
  at.xM > Math.min(a.xM, b.xM) - reachM &&
  at.xM < Math.max(a.xM, b.xM) + reachM &&
  at.yM > Math.min(a.yM, b.yM) - reachM &&
  at.yM < Math.max(a.yM, b.yM) + reachM;

function* endsOf(segments: readonly SegmentM[]): Generator<PointM> {
  for (const { a, b } of segments) {
    yield a;
    yield b;
  }
}

function* crossingsOf(segments: readonly SegmentM[]): Generator<PointM> {
  for (let i = 0; i < segments.length; i++) {
    for (let j = i + 1; j < segments.length; j++) {
      const spot = crossingOf(segments[i]!, segments[j]!);
      if (spot !== null) yield spot;
    }
  }
}

function nearestOf(segments: readonly SegmentM[], at: PointM): SegmentM | null {
  let best: SegmentM | null = null;
  let bestM = Infinity;
  for (const segment of segments) {
    const away = distanceToM(segment, at);
    if (away < bestM) [best, bestM] = [segment, away];
  }
  return best;
}
