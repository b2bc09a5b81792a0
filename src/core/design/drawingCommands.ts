import { moved, similarityOf, type Pair } from '../geometry/similarity';
import { errorOf, scaleOf, toDrawing, toFloor, type Laid } from '../building/drawing';
import { UpperRoomError } from '../errors';
import { between, type PointM } from '../geometry/point';
import type { SegmentM } from '../geometry/segment';
import { boundsOf, contains } from '../geometry/polygon';
import { existing, round } from './commands';
import { onFloor, referencesOf, type Design, type Drawing, type Reference } from './design';
import { LIMITS } from './limits';
import { moveDrawing, moveFloor } from './floorMove';
import { change, type Change } from './step';

/** A drawing without a scale is taken to be as wide as this until somebody measures it. */
const GUESSED_WIDTH_M = 50;

export type NewDrawing = Pick<Drawing, 'id' | 'floorId' | 'name' | 'assetId' | 'source' | 'widthPx' | 'heightPx'> & {
  /** What its file says of its scale, and what was read from the lengths written on it; null where neither says anything. */
  scale: Readonly<{ mPerPx: number; from: 'file' | 'words' }> | null;
};

/**
 * Lays a drawing under a floor: at the outline's corner, as wide as the outline until it is measured. A floor on which nothing stands yet gets the
 * drawing's own outline.
 */
export function addDrawing(design: Design, { scale: known, ...args }: NewDrawing): Change[] {
  const floor = existing(design, 'floors', args.floorId);
  const box = boundsOf(floor.outline);
  const scale = known?.mPerPx ?? (box === null ? GUESSED_WIDTH_M : box.eastM - box.westM) / args.widthPx;
  const drawing: Drawing = {
    ...args,
    xM: box?.westM ?? 0,
    yM: box?.northM ?? 0,
    mPerPxX: scale,
    mPerPxY: scale,
    turnDeg: 0,
    scaleFrom: known?.from ?? 'guess',
    apart: false,
    opacity: 0.6,
    hidden: false,
    invertAtNight: true,
    crop: { leftPx: 0, topPx: 0, rightPx: 0, bottomPx: 0 },
  };
  const empty = (['walls', 'zones', 'accessPoints', 'drawings'] as const).every((table) => onFloor(design, table, floor.id).length === 0);
  return [
    ...change('drawings', drawing.id, null, drawing),
    ...(empty ? change('floors', floor.id, floor, { ...floor, outline: edgeOf(drawing) }) : []),
  ];
}

/** The corners of what is seen of a drawing, on the floor. */
export function edgeOf(drawing: Drawing): PointM[] {
  const { leftPx, topPx, rightPx, bottomPx } = drawing.crop;
  const [east, south] = [drawing.widthPx - rightPx, drawing.heightPx - bottomPx];
  return [
    { x: leftPx, y: topPx },
    { x: east, y: topPx },
    { x: east, y: south },
    { x: leftPx, y: south },
  ].map((corner) => {
    const { xM, yM } = toFloor(drawing, corner);
    return { xM: round(xM), yM: round(yM) };
  });
}

/** The drawing that a line drawn over a floor is meant for: the one selected, else the topmost under its middle, else the topmost of all. */
export function drawingMeant(drawings: readonly Drawing[], selected: readonly string[], line: SegmentM): Drawing | undefined {
  const { xM, yM } = between(line.a, line.b, 0.5);
  return drawings.find(({ id }) => selected.includes(id)) ?? drawings.findLast((drawing) => contains(edgeOf(drawing), xM, yM)) ?? drawings.at(-1);
}

/** A reference between two spots of the floor over a drawing. @throws UpperRoomError REFERENCE_TOO_SHORT */
export function referenceAt(drawing: Drawing, id: string, a: PointM, b: PointM, lengthM: number): Reference {
  const [p, q] = [toDrawing(drawing, a), toDrawing(drawing, b)];
  if (!(Math.hypot(q.x - p.x, q.y - p.y) >= LIMITS.referencePx.min)) throw new UpperRoomError('REFERENCE_TOO_SHORT');
  return { id, drawingId: drawing.id, axPx: p.x, ayPx: p.y, bxPx: q.x, byPx: q.y, lengthM };
}

/**
 * Sets, changes or (with `null`) takes away references of a drawing, and gives it the scale that fits all that are left. With `along`, everything drawn on the
 * floor keeps its place over the drawing; else it keeps its metres.
 */
export function measureDrawing(
  design: Design,
  drawingId: string,
  references: ReadonlyArray<Readonly<{ id: string; reference: Reference | null }>>,
  { apart, along }: { apart?: boolean; along: boolean },
): Change[] {
  const drawing = existing(design, 'drawings', drawingId);
  const next = new Map(referencesOf(design, drawingId).map((reference) => [reference.id, reference]));
  const changes: Change[] = [];
  for (const { id, reference } of references) {
    changes.push(...change('references', id, next.get(id) ?? null, reference));
    if (reference === null) next.delete(id);
    else next.set(id, reference);
  }
  const isApart = apart ?? drawing.apart;
  const scale = scaleOf([...next.values()], isApart) ?? { mPerPxX: drawing.mPerPxX, mPerPxY: drawing.mPerPxY };
  const scaled: Drawing = { ...drawing, ...scale, apart: isApart };
  return [
    ...changes,
    ...change('drawings', drawingId, drawing, scaled),
    ...(along && (scaled.mPerPxX !== drawing.mPerPxX || scaled.mPerPxY !== drawing.mPerPxY) ? stretched(design, drawing, scaled) : []),
  ];
}

/** Gives a drawing a scale that was guessed: what was drawn over it goes along, and it is no less a guess. */
export function guessScale(design: Design, drawingId: string, pxPerM: number): Change[] {
  const drawing = existing(design, 'drawings', drawingId);
  const scaled: Drawing = { ...drawing, mPerPxX: 1 / pxPerM, mPerPxY: 1 / pxPerM };
  return [...change('drawings', drawingId, drawing, scaled), ...stretched(design, drawing, scaled)];
}

/** Everything on a floor that was drawn over a drawing, taken along to where the drawing now has it. */
function stretched(design: Design, before: Drawing, after: Laid): Change[] {
  const scale = Math.sqrt((after.mPerPxX / before.mPerPxX) * (after.mPerPxY / before.mPerPxY));
  return moveFloor(design, before.floorId, { to: (at) => toFloor(after, toDrawing(before, at)), turnDeg: 0, scale }, { besides: before.id });
}

/**
 * Lays a drawing over what stands, by pairs of a spot where it lies now and where that belongs: shift, turn and scale follow, the model stays. Its known
 * lengths are then those of the model. @throws UpperRoomError PAIRS_TOO_FEW
 */
export function layDrawing(design: Design, drawingId: string, pairs: readonly Pair[]): Change[] {
  const similarity = similarityOf(pairs, true);
  const { scale, turnDeg } = similarity;
  const move = { to: (at: PointM) => moved(similarity, at), turnDeg, scale };
  return moveDrawing(design, existing(design, 'drawings', drawingId), move, { scaleFrom: 'walls' });
}

/** The worst error among a drawing's references as a share of the length; null without any. */
export function worstError(drawing: Drawing, references: readonly Reference[]): number | null {
  return references.length === 0 ? null : Math.max(...references.map((reference) => Math.abs(errorOf(reference, drawing).share)));
}
