import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { MODEL_CATALOGUE, bandSchema, height, idSchema, kind, nameSchema, widthSchema, within } from './kind';
import { GENERATIONS } from '../../radio/rates';
import { LIMITS } from '../limits';

const cut = (min: number) => z.array(within(LIMITS.cutDb)).min(min).max(LIMITS.cutPoints).readonly();

/** An antenna as its two cuts, evenly spaced: the horizontal one round from the azimuth, the vertical one from straight down to straight up. */
export const antennaSchema = z.strictObject({ peakDbi: within(LIMITS.antennaDbi), horizontalDb: cut(1), verticalDb: cut(2) }).readonly();

const radioModelSchema = z
  .strictObject({
    band: bandSchema,
    minPowerDbm: within(LIMITS.txPowerDbm),
    maxPowerDbm: within(LIMITS.txPowerDbm),
    maxWidthMhz: widthSchema,
    streams: within(LIMITS.streams).int(),
    antenna: antennaSchema,
  })
  .readonly()
  .refine((radio) => radio.minPowerDbm <= radio.maxPowerDbm, { message: 'the lowest power is above the highest', path: ['minPowerDbm'] });

/** An access point model as data: what an own one is stored as, and what files of models hold. */
export const apModelSchema = z
  .strictObject({
    id: idSchema.refine((id) => !MODEL_CATALOGUE.ids.has(id), { message: 'is a model of the catalogue' }),
    name: nameSchema,
    generation: z.enum(GENERATIONS),
    mount: z.enum(['ceiling', 'wall', 'pole']),
    outdoor: z.boolean(),
    defaultHeightM: height,
    poeW: within(LIMITS.poeW),
    clientsPerRadio: within(LIMITS.people).int(),
    radios: z
      .array(radioModelSchema)
      .min(1)
      .max(BANDS.length)
      .refine((radios) => new Set(radios.map(({ band }) => band)).size === radios.length, { message: 'one radio per band' })
      .readonly(),
  })
  .readonly();

/** An access point model of the project's own, beside those of the catalogue. */
export const apModel = kind({ word: 'access point model', schema: apModelSchema });
