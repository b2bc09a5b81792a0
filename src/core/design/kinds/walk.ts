import { z } from 'zod';
import { ADAPTERS, DWELL_MS, type ReceiverSetting } from '../../survey/setting';
import { LIMITS } from '../limits';
import { bandSchema, idSchema, kind, metres, nameSchema, oneOf, within } from './kind';

const turnSchema = z.strictObject({ xM: metres, yM: metres, tMs: z.number().min(0).max(1e9) }).readonly();

/** Before anything is changed, with an access point on a stick where one is meant to hang, after all hangs. */
export const WALK_PURPOSES = ['before', 'stick', 'after'] as const;

/** How the receiver was set: fields as in `ReceiverSetting`. */
export const receiverSettingSchema = z
  .strictObject({
    adapter: oneOf(ADAPTERS) as unknown as z.ZodType<ReceiverSetting['adapter']>,
    bands: z.array(bandSchema).min(1).max(3).readonly(),
    channels: z.array(z.number().int().min(1).max(233)).max(LIMITS.scannedChannels).readonly(),
    dwellMs: within(LIMITS.dwellMs),
    ssid: z.string().max(32),
    swept: z
      .strictObject({ bands: z.array(bandSchema).min(1).max(3).readonly(), fromMs: z.number().min(0).max(86_400_000) })
      .readonly()
      .nullable(),
  })
  .readonly();

/** A walk of which nothing is said but what must be. */
export const newWalk = (fields: Pick<Walk, 'id' | 'variantId' | 'floorId' | 'name' | 'startedAt'> & Partial<Walk>): Walk => ({
  purpose: null,
  note: '',
  finished: false,
  legs: [],
  receiver: null,
  leftOut: [],
  scoredAt: null,
  ...fields,
});
type Walk = z.infer<typeof walk.schema>;

/** A survey on foot. Its samples are measurements and stand in a table of their own. */
export const walk = kind({
  word: 'walk',
  parents: { variantId: 'variants', floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      variantId: idSchema,
      floorId: idSchema,
      name: nameSchema,
      startedAt: z.iso.datetime(),
      /** What it is for; null where nobody has said. */
      purpose: z.enum(WALK_PURPOSES).nullable(),
      note: z.string().max(LIMITS.textLength),
      finished: z.boolean(),
      legs: z
        .array(z.strictObject({ turns: z.array(turnSchema).max(LIMITS.turnsPerLeg).readonly() }).readonly())
        .max(LIMITS.legs)
        .readonly(),
      /** How it was listened; null for what was brought in from elsewhere. */
      receiver: receiverSettingSchema.nullable(),
      /** Legs, by number from 0, of which nothing counts. */
      leftOut: z.array(z.number().int().min(0).max(LIMITS.legs)).max(LIMITS.legs).readonly(),
      /** When somebody looked at the simulated site's truth while it counted; null where nobody did. */
      scoredAt: z.iso.datetime().nullable(),
    })
    .readonly(),
  // Since version 2 it says what it is for.
  // Since version 3 it says how it was listened, which legs do not count, and whether the truth was looked at.
  // Since version 4 a swept receiver may be carried.
  migrations: [
    (v1) => ({ ...v1, purpose: null, note: '' }),
    (v2) => ({
      ...v2,
      receiver: { adapter: 'reference', bands: ['2.4', '5', '6'], channels: [], dwellMs: DWELL_MS, ssid: '' },
      leftOut: [],
      scoredAt: null,
    }),
    (v3) => ({ ...v3, receiver: v3.receiver === null ? null : { ...(v3.receiver as object), swept: null } }),
  ],
});
