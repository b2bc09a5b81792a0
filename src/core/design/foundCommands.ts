import { toFloor } from '../building/drawing';
import { segmentOf, wallLengthM } from '../building/wall';
import type { FoundFitting } from '../finding/fittings';
import type { FoundWall } from '../finding/wholes';
import type { PointM } from '../geometry/point';
import { contains } from '../geometry/polygon';
import { distanceToM } from '../geometry/segment';
import { addArea } from './areaCommands';
import { edit, round } from './commands';
import { onFloor, type Design, type Drawing } from './design';
import { LIMITS } from './limits';
import { addOpening } from './openingCommands';
import { applyChanges, type Change } from './step';
import { addWall } from './wallCommands';

/** What walls of a thickness are commonly made of. A guess that shows: who knows better changes it. */
const BY_THICKNESS: ReadonlyArray<Readonly<{ uptoM: number; materialId: string }>> = [
  { uptoM: 0.16, materialId: 'plasterboard' },
  { uptoM: 0.19, materialId: 'brick-half' },
  { uptoM: 0.33, materialId: 'brick' },
  { uptoM: Infinity, materialId: 'brick-heavy' },
];

export const materialByThickness = (thickM: number): string => BY_THICKNESS.find(({ uptoM }) => thickM <= uptoM)!.materialId;

/** The two ends of a wall found in a drawing, on the floor. */
export const endsOnFloor = (drawing: Drawing, { ax, ay, bx, by }: FoundWall): { a: PointM; b: PointM } => ({
  a: toFloor(drawing, { x: ax, y: ay }),
  b: toFloor(drawing, { x: bx, y: by }),
});

/** Rounding to the millimetre may not push an opening over the end of its wall. */
const SLACK_M = 0.003;

/** Draws walls that were found in a drawing, with their doors and windows, in materials by their thickness. */
export function drawFound(design: Design, drawing: Drawing, walls: readonly FoundWall[], newId: () => string): Change[] {
  const mPerPx = Math.sqrt(drawing.mPerPxX * drawing.mPerPxY);
  return walls.flatMap((found) => {
    const { a, b } = endsOnFloor(drawing, found);
    const id = newId();
    const materialId = materialByThickness(found.thickPx * mPerPx);
    const wall = { id, floorId: drawing.floorId, axM: a.xM, ayM: a.yM, bxM: b.xM, byM: b.yM, materialId };
    const lengthM = Math.hypot(b.xM - a.xM, b.yM - a.yM);
    if (lengthM < LIMITS.wallLengthM.min + SLACK_M) return [];
    const changes = addWall(design, wall);
    let drawn = applyChanges(design, changes);
    const perPx = wallLengthM(drawn.walls[id]!) / Math.hypot(found.bx - found.ax, found.by - found.ay);
    for (const { kind, atPx, widthPx, hinge, swing } of found.openings) {
      const widthM = round(Math.min(widthPx * perPx, lengthM) - SLACK_M);
      if (widthM < LIMITS.openingWidthM.min) continue;
      const opening = addOpening(drawn, { id: newId(), wallId: id, kind, middleM: (atPx + widthPx / 2) * perPx, widthM, hinge, swing });
      drawn = applyChanges(drawn, opening);
      changes.push(...opening);
    }
    return changes;
  });
}

/** The corners of stairs or a lift found in a drawing, on the floor. */
export const cornersOnFloor = (drawing: Drawing, { corners }: FoundFitting): PointM[] => corners.map((corner) => toFloor(drawing, corner));

const FITTING_NAME: Readonly<Record<FoundFitting['kind'], string>> = { stairs: 'Stairs', lift: 'Lift' };

/** Draws stairs and lifts that were found in a drawing, as rooms of that name. */
export function drawFittings(design: Design, drawing: Drawing, fittings: readonly FoundFitting[], newId: () => string): Change[] {
  let drawn = design;
  return fittings.flatMap((fitting) => {
    const id = newId();
    const area = addArea(drawn, { id, floorId: drawing.floorId, kind: 'room', polygon: cornersOnFloor(drawing, fitting) });
    const named = applyChanges(drawn, area);
    const taken = new Set(onFloor(drawn, 'zones', drawing.floorId).map(({ name }) => name));
    const word = FITTING_NAME[fitting.kind];
    let name = word;
    for (let n = 2; taken.has(name); n++) name = `${word} ${n}`;
    const changes = [...area, ...edit(named, 'zones', id, { name })];
    drawn = applyChanges(drawn, changes);
    return changes;
  });
}

/** Whether stairs or a lift are drawn already: a room of the floor lies about their middle and is called so. */
export function fittingStands(design: Design, drawing: Drawing, fitting: FoundFitting): boolean {
  const corners = cornersOnFloor(drawing, fitting);
  const middle = {
    xM: corners.reduce((sum, { xM }) => sum + xM, 0) / corners.length,
    yM: corners.reduce((sum, { yM }) => sum + yM, 0) / corners.length,
  };
  return onFloor(design, 'zones', drawing.floorId).some(
    ({ kind, name, polygon }) => kind === 'room' && name.startsWith(FITTING_NAME[fitting.kind]) && contains(polygon, middle.xM, middle.yM),
  );
}

/** Within this of a wall that stands, what is found is that wall. */
const SAME_M = 0.25;

/** Whether a found wall stands already: both its ends and its middle lie at walls of the floor that run its way. */
export function standsAlready(design: Design, drawing: Drawing, found: FoundWall): boolean {
  const { a, b } = endsOnFloor(drawing, found);
  const lengthM = Math.hypot(b.xM - a.xM, b.yM - a.yM) || 1;
  const alike = onFloor(design, 'walls', drawing.floorId).filter(
    ({ axM, ayM, bxM, byM }) =>
      Math.abs((bxM - axM) * (b.xM - a.xM) + (byM - ayM) * (b.yM - a.yM)) > 0.98 * lengthM * Math.hypot(bxM - axM, byM - ayM),
  );
  return [0.1, 0.5, 0.9].every((share) => {
    const at = { xM: a.xM + (b.xM - a.xM) * share, yM: a.yM + (b.yM - a.yM) * share };
    return alike.some((wall) => distanceToM(segmentOf(wall), at) <= SAME_M);
  });
}
