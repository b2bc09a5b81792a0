import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { channelExists, channelOf } from '../../radio/channel';
import { LIMITS } from '../limits';
import { MODEL_CATALOGUE, bandSchema, height, idSchema, kind, metres, nameSchema, widthSchema, within, type RawRecord } from './kind';

const channelNumber = z.number().int().min(1).max(233);

/** A radio as set. `locked` means that no planning may change it. Power is conducted. */
export const radioSchema = z
  .strictObject({
    band: bandSchema,
    on: z.boolean(),
    channel: channelNumber,
    widthMhz: widthSchema,
    txPowerDbm: within(LIMITS.txPowerDbm),
    locked: z.boolean(),
    /** Primary channels that planning may not use here. */
    forbidden: z.array(channelNumber).max(LIMITS.forbiddenChannels).readonly(),
  })
  .readonly()
  .refine((r) => channelExists(channelOf(r)), {
    message: 'this band has no such channel at this width',
    path: ['channel'],
  });

/** Version 1 said `pinned` where the trade says locked; pinned is now said of a readout only. */
const lockedForPinned = ({ pinned, ...rest }: RawRecord): RawRecord => ({ ...rest, locked: pinned });

/** An access point as hung: model, place, aim, and its radios. */
export const accessPoint = kind({
  word: 'access point',
  parents: { variantId: 'variants', floorId: 'floors', modelId: 'apModels' },
  catalogues: { modelId: MODEL_CATALOGUE },
  schema: z
    .strictObject({
      id: idSchema,
      variantId: idSchema,
      floorId: idSchema,
      name: nameSchema,
      modelId: idSchema,
      xM: metres,
      yM: metres,
      heightM: height,
      azimuthDeg: within(LIMITS.azimuthDeg),
      tiltDeg: within(LIMITS.tiltDeg),
      locked: z.boolean(),
      /** Of the project's network names, those that it does not announce. An id that is gone is passed over. */
      withheldSsids: z.array(idSchema).max(LIMITS.withheldSsids).readonly(),
      radios: z
        .array(radioSchema)
        .max(BANDS.length)
        .refine((radios) => new Set(radios.map((r) => r.band)).size === radios.length, { message: 'one radio per band' })
        .readonly(),
    })
    .readonly(),
  migrations: [
    (v1) => ({ ...lockedForPinned(v1), radios: (v1.radios as RawRecord[]).map(lockedForPinned) }),
    // Since version 3 a radio may have channels forbidden.
    (v2) => ({ ...v2, radios: (v2.radios as RawRecord[]).map((radio) => ({ ...radio, forbidden: [] })) }),
    // Since version 4 an access point may withhold network names.
    (v3) => ({ ...v3, withheldSsids: [] }),
  ],
});
