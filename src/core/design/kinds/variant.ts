import { z } from 'zod';
import { idSchema, kind, nameSchema } from './kind';

/** An alternative design of the same building: owns access points and walks. */
export const variant = kind({
  word: 'variant',
  keepOne: true,
  schema: z.strictObject({ id: idSchema, name: nameSchema, order: z.number().int().min(0).max(1000) }).readonly(),
});
