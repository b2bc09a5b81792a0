import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, metres, nameSchema, within } from './kind';

const sidePx = z.number().int().min(1).max(LIMITS.pictureSidePx.max);
const px = z.number().min(0).max(LIMITS.pictureSidePx.max);

/**
 * A drawing laid under a floor: a picture among the project's assets, and where it lies. Its pixel (0, 0) lies at xM, yM; from there x runs
 * along `turnDeg` (clockwise as the plan is seen) with `mPerPxX` metres a pixel, y square to it with `mPerPxY`.
 */
export const drawing = kind({
  word: 'drawing',
  parents: { floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      name: nameSchema,
      assetId: z.string().regex(/^[0-9a-f]{64}$/, 'must be the hash of a picture'),
      widthPx: sidePx,
      heightPx: sidePx,
      xM: metres,
      yM: metres,
      mPerPxX: within(LIMITS.mPerPx),
      mPerPxY: within(LIMITS.mPerPx),
      turnDeg: z.number().min(-180).max(180),
      /** Where the scale is from while nothing was measured on it: guessed, said by the file (a DXF with units), or the walls it was laid over. */
      scaleFrom: z.enum(['guess', 'file', 'walls']),
      /** References along x and y may ask for different scales: paper stretches, copies are squeezed. */
      apart: z.boolean(),
      opacity: within(LIMITS.opacity),
      hidden: z.boolean(),
      invertAtNight: z.boolean(),
      /** What is cut off at each side, in px. */
      crop: z.strictObject({ leftPx: px, topPx: px, rightPx: px, bottomPx: px }).readonly(),
    })
    .readonly()
    .refine((d) => d.crop.leftPx + d.crop.rightPx < d.widthPx && d.crop.topPx + d.crop.bottomPx < d.heightPx, {
      message: 'something of the drawing must be left',
      path: ['crop'],
    }),
});
