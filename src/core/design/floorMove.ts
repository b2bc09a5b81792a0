import { toFloor } from '../building/drawing';
import { segmentOf, wallLengthM } from '../building/wall';
import type { PointM } from '../geometry/point';
import { mapRegion } from './areaCommands';
import { existing, round } from './commands';
import { onFloor, referencesOf, type Design, type Drawing, type Floor } from './design';
import { LIMITS } from './limits';
import { change, type Change } from './step';
import { openingsIn } from './wallCommands';

/** How a floor moves: where each spot comes to lie, and what that does to directions and to the size of what has no spots of its own. */
export type FloorMove = Readonly<{ to: (at: PointM) => PointM; turnDeg: number; scale: number }>;

/** An angle within -180 to 180 degrees. */
export const upToHalfTurn = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** A drawing moved, turned and scaled, with its known lengths. */
export function moveDrawing(design: Design, drawing: Drawing, { to, turnDeg, scale }: FloorMove, fields: Partial<Drawing> = {}): Change[] {
  const { xM, yM } = to(toFloor(drawing, { x: 0, y: 0 }));
  return [
    ...change('drawings', drawing.id, drawing, {
      ...drawing,
      xM: round(xM),
      yM: round(yM),
      mPerPxX: drawing.mPerPxX * scale,
      mPerPxY: drawing.mPerPxY * scale,
      turnDeg: upToHalfTurn(drawing.turnDeg + turnDeg),
      ...fields,
    }),
    ...referencesOf(design, drawing.id).flatMap((reference) =>
      change('references', reference.id, reference, { ...reference, lengthM: reference.lengthM * scale }),
    ),
  ];
}

/** Moves everything on a floor as one: outline, drawings but for one, walls with their openings, areas, access points and walks. */
export function moveFloor(
  design: Design,
  floorId: string,
  move: FloorMove,
  { besides = null, fields = {} }: { besides?: string | null; fields?: Partial<Floor> },
): Change[] {
  const floor = existing(design, 'floors', floorId);
  const { turnDeg } = move;
  const to = (at: PointM): PointM => {
    const { xM, yM } = move.to(at);
    return { xM: round(xM), yM: round(yM) };
  };
  return [
    ...change('floors', floorId, floor, { ...floor, outline: floor.outline.map(to), ...fields }),
    ...onFloor(design, 'drawings', floorId).flatMap((drawing) => (drawing.id === besides ? [] : moveDrawing(design, drawing, move))),
    ...onFloor(design, 'walls', floorId).flatMap((wall): Change[] => {
      const { a, b } = segmentOf(wall);
      const [p, q] = [to(a), to(b)];
      const next = { ...wall, axM: p.xM, ayM: p.yM, bxM: q.xM, byM: q.yM };
      const grown = wallLengthM(next) / wallLengthM(wall);
      // Rounding to the millimetre is no growth.
      const openings = Math.abs(grown - 1) * wallLengthM(wall) < 0.002 ? [] : openingsIn(design, wall.id);
      return [
        ...change('walls', wall.id, wall, next),
        ...openings.flatMap((opening) =>
          change('openings', opening.id, opening, {
            ...opening,
            atM: round(opening.atM * grown),
            widthM: Math.max(LIMITS.openingWidthM.min, round(opening.widthM * grown)),
          }),
        ),
      ];
    }),
    ...onFloor(design, 'zones', floorId).flatMap((zone) => change('zones', zone.id, zone, { ...zone, ...mapRegion(zone, to) })),
    ...onFloor(design, 'slabOpenings', floorId).flatMap((hole) => change('slabOpenings', hole.id, hole, { ...hole, ...mapRegion(hole, to) })),
    ...onFloor(design, 'accessPoints', floorId).flatMap((ap) =>
      change('accessPoints', ap.id, ap, { ...ap, ...to(ap), azimuthDeg: (upToHalfTurn(ap.azimuthDeg + turnDeg) + 360) % 360 }),
    ),
    ...onFloor(design, 'walks', floorId).flatMap((walk) =>
      change('walks', walk.id, walk, { ...walk, legs: walk.legs.map((leg) => ({ turns: leg.turns.map((turn) => ({ ...turn, ...to(turn) })) })) }),
    ),
  ];
}
