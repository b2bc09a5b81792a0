import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind } from './kind';

/** A finding of the checks that was looked at and is to stay as it is in a variant, with the reason. */
export const acceptedFinding = kind({
  word: 'accepted finding',
  parents: { variantId: 'variants' },
  schema: z
    .strictObject({
      id: idSchema,
      variantId: idSchema,
      finding: z.string().min(1).max(300),
      reason: z.string().trim().min(1, 'needs a reason').max(LIMITS.textLength),
    })
    .readonly(),
});
