import { z } from 'zod';
import { LIMITS } from '../limits';
import { assetIdSchema, idSchema, kind, metres, nameSchema } from './kind';

/** Something seen on site, pinned to its spot: a note, and photos among the project's assets. */
export const mark = kind({
  word: 'mark',
  parents: { floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      xM: metres,
      yM: metres,
      note: z.string().max(LIMITS.textLength),
      photos: z
        .array(z.strictObject({ assetId: assetIdSchema, name: nameSchema }).readonly())
        .max(LIMITS.photosPerMark)
        .readonly(),
    })
    .readonly(),
});
