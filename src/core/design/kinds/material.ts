import { z } from 'zod';
import { MAX_WALL_LOSS_DB, WALL_PATTERNS } from '../../building/material';
import { SUBSTANCES } from '../../building/substance';
import { LIMITS } from '../limits';
import { MATERIAL_CATALOGUE, bandSchema, idSchema, kind, nameSchema, oneOf, within } from './kind';

/** A material of the project's own, beside those of the catalogue. */
export const material = kind({
  word: 'material',
  schema: z
    .strictObject({
      id: idSchema.refine((id) => !MATERIAL_CATALOGUE.ids.has(id), { message: 'is a material of the catalogue' }),
      name: nameSchema,
      pattern: z.enum(WALL_PATTERNS),
      layers: z
        .array(z.strictObject({ substanceId: oneOf(SUBSTANCES), thicknessM: within(LIMITS.layerM) }).readonly())
        .min(1)
        .max(LIMITS.layers)
        .readonly(),
      measuredDb: z.partialRecord(bandSchema, within({ min: 0, max: MAX_WALL_LOSS_DB })).readonly(),
    })
    .readonly(),
});
