import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, metres, nameSchema } from './kind';

const turnSchema = z.strictObject({ xM: metres, yM: metres, tMs: z.number().min(0).max(1e9) }).readonly();

/** Before anything is changed, with an access point on a stick where one is meant to hang, after all hangs. */
export const WALK_PURPOSES = ['before', 'stick', 'after'] as const;

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
      /** What it is for; null where nobody has said. */
      purpose: z.enum(WALK_PURPOSES).nullable(),
      note: z.string().max(LIMITS.textLength),
      finished: z.boolean(),
      legs: z
        .array(z.strictObject({ turns: z.array(turnSchema).max(LIMITS.turnsPerLeg).readonly() }).readonly())
        .max(LIMITS.legs)
        .readonly(),
    })
    .readonly(),
  // Since version 2 it says what it is for.
  migrations: [(v1) => ({ ...v1, purpose: null, note: '' })],
});
