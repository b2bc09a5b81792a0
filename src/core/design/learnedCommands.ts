import { MAX_WALL_LOSS_DB, lossDbOf, type Material } from '../building/material';
import type { Band } from '../radio/band';
import { edit, existing } from './commands';
import { exponentOf, materialsOf, onFloor, openingsOf, type Design } from './design';
import { LIMITS } from './limits';
import { freeName } from './names';
import { applyChanges, change, type Change } from './step';

/** What was learned of a floor in a band, and is taken into the drawing: how much more than drawn, in dB, of the exponent as a number. */
export type Taken = Readonly<{
  exponentBy: number | null;
  materials: ReadonlyArray<Readonly<{ materialId: string; byDb: number }>>;
  /** What in a wall is of a material, the wall itself or openings in it: beside what its material as such is more. */
  walls: ReadonlyArray<Readonly<{ wallId: string; materialId: string; byDb: number }>>;
}>;

const within = (value: number, { min, max }: Readonly<{ min: number; max: number }>): number => Math.max(min, Math.min(max, value));

/**
 * Takes what was learned into the drawing of one floor, for one band; the exponent is of all bands. A material that is the project's own and used on this floor alone is
 * given what was measured; of any other an own one is made, and what is of it on this floor becomes that.
 * @param newId an id for each material that is made
 * @throws UpperRoomError RECORD_UNKNOWN
 */
export function takeLearned(design: Design, floorId: string, band: Band, { exponentBy, materials, walls }: Taken, newId: () => string): Change[] {
  const floor = existing(design, 'floors', floorId);
  let next = design;
  const changes: Change[] = [];
  const make = (more: readonly Change[]): void => {
    next = applyChanges(next, more);
    changes.push(...more);
  };
  const measured = (like: Material, byDb: number) => ({
    ...like.measuredDb,
    [band]: Math.round(within(lossDbOf(like, band) + byDb, { min: 0, max: MAX_WALL_LOSS_DB }) * 100) / 100,
  });
  const madeLike = (like: Material, byDb: number, what: string): string => {
    const id = newId();
    const name = freeName(`${like.name}, ${what}`, Object.values(next.materials));
    make(change('materials', id, null, { ...like, id, name, measuredDb: measured(like, byDb) }));
    return id;
  };
  const pieces = (materialId: string, wallId?: string) => ({
    walls: onFloor(next, 'walls', floorId).filter((wall) => wall.materialId === materialId && (wallId === undefined || wall.id === wallId)),
    openings: openingsOf(next, floorId).filter((opening) => opening.materialId === materialId && (wallId === undefined || opening.wallId === wallId)),
  });
  const becomes = (of: ReturnType<typeof pieces>, materialId: string): void => {
    for (const { id } of of.walls) make(edit(next, 'walls', id, { materialId }));
    for (const { id } of of.openings) make(edit(next, 'openings', id, { materialId }));
  };
  // Single walls first: what they are more comes on top of what their material is.
  for (const { wallId, materialId, byDb } of walls) {
    const of = pieces(materialId, wallId);
    if (of.walls.length + of.openings.length === 0) continue;
    const common = materials.find((one) => one.materialId === materialId)?.byDb ?? 0;
    becomes(of, madeLike(materialsOf(design)(materialId), common + byDb, 'one wall, measured'));
  }
  for (const { materialId, byDb } of materials) {
    const of = pieces(materialId);
    if (of.walls.length + of.openings.length === 0) continue;
    const like = materialsOf(design)(materialId);
    if (Object.hasOwn(next.materials, materialId) && isOnlyOn(next, floorId, materialId))
      make(edit(next, 'materials', materialId, { measuredDb: measured(like, byDb) }));
    else becomes(of, madeLike(like, byDb, 'measured'));
  }
  if (exponentBy !== null)
    make(edit(next, 'floors', floorId, { exponent: Math.round(within(exponentOf(floor) + exponentBy, LIMITS.exponent) * 100) / 100 }));
  return changes;
}

/** Whether nothing on another floor, and no slab, is of a material. */
const isOnlyOn = (design: Design, floorId: string, materialId: string): boolean =>
  Object.values(design.floors).every(
    (floor) =>
      floor.slabMaterialId !== materialId &&
      (floor.id === floorId ||
        (onFloor(design, 'walls', floor.id).every((wall) => wall.materialId !== materialId) &&
          openingsOf(design, floor.id).every((opening) => opening.materialId !== materialId))),
  );
