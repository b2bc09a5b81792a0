import { z } from 'zod';
import { MATERIALS } from '../../building/material';
import { LIMITS } from '../limits';
import { height, idSchema, kind, metres, oneOf } from './kind';

/** A wall: a segment on the plan with a base and a top above the floor. */
export const wall = kind({
  word: 'wall',
  parents: { floorId: 'floors' },
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
      materialId: oneOf(MATERIALS),
    })
    .readonly()
    .refine((w) => Math.hypot(w.bxM - w.axM, w.byM - w.ayM) >= LIMITS.wallLengthM.min, {
      message: `a wall must be at least ${LIMITS.wallLengthM.min} m long`,
      path: ['bxM'],
    })
    .refine((w) => w.topM > w.baseM, { message: 'the top must be above the base', path: ['topM'] }),
});
