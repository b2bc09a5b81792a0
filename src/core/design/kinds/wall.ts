import { z } from 'zod';
import { LIMITS } from '../limits';
import { MATERIAL_CATALOGUE, height, idSchema, kind, metres } from './kind';

/** A wall: a segment on the plan with a base and a top above the floor. */
export const wall = kind({
  word: 'wall',
  parents: { floorId: 'floors', materialId: 'materials' },
  catalogues: { materialId: MATERIAL_CATALOGUE },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      axM: metres,
      ayM: metres,
      bxM: metres,
      byM: metres,
      baseM: height,
      topM: height,
      materialId: idSchema,
    })
    .readonly()
    .refine((w) => Math.hypot(w.bxM - w.axM, w.byM - w.ayM) >= LIMITS.wallLengthM.min, {
      message: `a wall must be at least ${LIMITS.wallLengthM.min} m long`,
      path: ['bxM'],
    })
    .refine((w) => w.topM > w.baseM, { message: 'the top must be above the base', path: ['topM'] }),
});
