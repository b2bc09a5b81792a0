import type { Material } from '../building/material';
import { edit } from './commands';
import { materialsOf, type Design } from './design';
import { freeName } from './names';
import { change, type Change } from './step';

/** A material of the project's own, like another. */
export function addMaterial(design: Design, id: string, likeId: string): Change[] {
  const like = materialsOf(design)(likeId);
  return change('materials', id, null, { ...like, id, name: freeName(`${like.name}, own`, Object.values(design.materials)) });
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

/** Sets fields of a material; everything made of it changes with it. */
export const editMaterial = (design: Design, id: string, fields: Partial<Omit<Material, 'id'>>): Change[] => edit(design, 'materials', id, fields);
