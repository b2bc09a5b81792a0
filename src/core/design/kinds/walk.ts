import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, metres, nameSchema } from './kind';

const turnSchema = z.strictObject({ xM: metres, yM: metres, tMs: z.number().min(0).max(1e9) }).readonly();

/** A survey on foot. Its samples are measurements and stand in a table of their own. */
export const walk = kind({
  word: 'walk',
  parents: { variantId: 'variants', floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      variantId: idSchema,
      floorId: idSchema,
      name: nameSchema,
      startedAt: z.iso.datetime(),
      finished: z.boolean(),
      legs: z
        .array(z.strictObject({ turns: z.array(turnSchema).max(LIMITS.turnsPerLeg).readonly() }).readonly())
        .max(LIMITS.legs)
        .readonly(),
    })
    .readonly(),
});
