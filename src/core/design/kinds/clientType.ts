import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { COMMON_RULE, PREFERENCES } from '../../radio/bandRule';
import { GENERATIONS } from '../../radio/rates';
import { LIMITS } from '../limits';
import { CLIENT_CATALOGUE, bandSchema, idSchema, kind, nameSchema, widthSchema, within } from './kind';

/** A kind of client as data: what an own one is stored as, and what files of equipment hold. */
export const clientTypeSchema = z
  .strictObject({
    id: idSchema.refine((id) => !CLIENT_CATALOGUE.ids.has(id), { message: 'is a client of the catalogue' }),
    name: nameSchema,
    bands: z
      .array(bandSchema)
      .min(1)
      .max(BANDS.length)
      .refine((bands) => new Set(bands).size === bands.length, { message: 'each band once' })
      .readonly(),
    bandRule: z.strictObject({ prefers: z.enum(PREFERENCES), fromDbm: within(LIMITS.owedDbm) }).readonly(),
    equipment: z
      .strictObject({
        gainDbi: within(LIMITS.clientDbi),
        noiseFigureDb: within(LIMITS.noiseFigureDb),
        streams: within(LIMITS.streams).int(),
        generation: z.enum(GENERATIONS),
        maxWidthMhz: widthSchema,
        txPowerDbm: within(LIMITS.txPowerDbm),
      })
      .readonly(),
  })
  .readonly();

/** A kind of client of the project's own, beside those of the catalogue. */
export const clientType = kind({
  word: 'client type',
  schema: clientTypeSchema,
  // Since version 2 it says which band it takes.
  migrations: [(v1) => ({ ...v1, bandRule: COMMON_RULE })],
});
