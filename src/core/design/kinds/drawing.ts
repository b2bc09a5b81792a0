import { z } from 'zod';
import { VECTOR_TYPES } from '../../formats/picture';
import { LIMITS } from '../limits';
import { assetIdSchema, idSchema, kind, metres, nameSchema, within } from './kind';

const sidePx = z.number().int().min(1).max(LIMITS.pictureSidePx.max);
const px = z.number().min(0).max(LIMITS.pictureSidePx.max);

/** What a drawing was drawn from, among the project's assets: a PDF, an SVG or a DXF, and the page or the layers that were chosen of it. */
const sourceSchema = z
  .strictObject({
    assetId: assetIdSchema,
    type: z.enum(VECTOR_TYPES),
    chosen: z.array(z.number().int().min(0).max(LIMITS.drawingParts)).max(LIMITS.drawingParts).readonly(),
  })
  .readonly();

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
      assetId: assetIdSchema,
      /** Its vectors; null for a picture. */
      source: sourceSchema.nullable(),
      widthPx: sidePx,
      heightPx: sidePx,
      xM: metres,
      yM: metres,
      mPerPxX: within(LIMITS.mPerPx),
      mPerPxY: within(LIMITS.mPerPx),
      turnDeg: z.number().min(-180).max(180),
      /** Where the scale is from while nothing was measured on it: guessed, read from the lengths written on it (a guess too), said by the file (a DXF with units), or the walls it was laid over. */
      scaleFrom: z.enum(['guess', 'words', 'file', 'walls']),
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
  // Since version 2 its vectors are kept.
  migrations: [(v1) => ({ ...v1, source: null })],
});
