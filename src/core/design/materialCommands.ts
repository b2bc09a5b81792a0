import type { Material } from '../building/material';
import { edit, existing } from './commands';
import { materialsOf, type Design } from './design';
import { change, type Change } from './step';

/** A material of the project's own, like another. */
export function addMaterial(design: Design, id: string, likeId: string): Change[] {
  const like = materialsOf(design)(likeId);
  const names = new Set(Object.values(design.materials).map(({ name }) => name));
  let name = `${like.name}, own`;
  for (let n = 2; names.has(name); n++) name = `${like.name}, own ${n}`;
  return change('materials', id, null, { ...like, id, name: name.slice(0, 120) });
}

/** How many walls, openings and slabs are of a material. */
export function usesOf(design: Design, materialId: string): number {
  const of = (records: ReadonlyArray<{ materialId: string }>): number => records.filter((record) => record.materialId === materialId).length;
  return (
    of(Object.values(design.walls)) +
    of(Object.values(design.openings)) +
    Object.values(design.floors).filter((floor) => floor.slabMaterialId === materialId).length
  );
}

/** What walls are of when their material goes. */
export const INSTEAD_ID = 'plasterboard';

/** Deletes a material of the project's own; what was made of it is then of another. @throws UpperRoomError RECORD_UNKNOWN */
export function removeMaterial(design: Design, id: string, insteadId: string): Change[] {
  const material = existing(design, 'materials', id);
  const uses = <T extends { id: string; materialId: string }>(records: Readonly<Record<string, T>>) =>
    Object.values(records).filter((record) => record.materialId === id);
  return [
    ...uses(design.walls).flatMap((wall) => edit(design, 'walls', wall.id, { materialId: insteadId })),
    ...uses(design.openings).flatMap((opening) => edit(design, 'openings', opening.id, { materialId: insteadId })),
    ...Object.values(design.floors)
      .filter((floor) => floor.slabMaterialId === id)
      .flatMap((floor) => edit(design, 'floors', floor.id, { slabMaterialId: insteadId })),
    ...change('materials', id, material, null),
  ];
}

/** Sets fields of a material; everything made of it changes with it. */
export const editMaterial = (design: Design, id: string, fields: Partial<Omit<Material, 'id'>>): Change[] => edit(design, 'materials', id, fields);
