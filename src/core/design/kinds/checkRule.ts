import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind } from './kind';

/** How one rule of the checks is set in a project; its id is the rule's. A rule that is off says why. */
export const checkRule = kind({
  word: 'rule of the checks',
  schema: z
    .strictObject({ id: idSchema, on: z.boolean(), note: z.string().max(LIMITS.textLength), threshold: z.number().min(-200).max(1000).nullable() })
    .readonly(),
});
