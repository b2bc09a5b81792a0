import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, within } from './kind';

const px = z
  .number()
  .min(-LIMITS.pictureSidePx.max)
  .max(2 * LIMITS.pictureSidePx.max);

/** A known length on a drawing, from one of its pixels to another: what gives it its true size. */
export const reference = kind({
  word: 'reference',
  parents: { drawingId: 'drawings' },
  schema: z
    .strictObject({
      id: idSchema,
      drawingId: idSchema,
      axPx: px,
      ayPx: px,
      bxPx: px,
      byPx: px,
      lengthM: within({ min: LIMITS.wallLengthM.min, max: LIMITS.coordinateM.max }),
    })
    .readonly()
    .refine((r) => Math.hypot(r.bxPx - r.axPx, r.byPx - r.ayPx) >= LIMITS.referencePx.min, { message: 'its ends must lie apart', path: ['bxPx'] }),
});
