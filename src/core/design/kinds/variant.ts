import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { LIMITS } from '../limits';
import { bandSchema, idSchema, kind, nameSchema, widthSchema, within } from './kind';

const channels = z.array(z.number().int().min(1).max(233)).max(LIMITS.forbiddenChannels).readonly();
const widths = z.array(widthSchema).max(5).readonly();

/** The rules that a variant was last retuned under, as the engineer set them: `PlanRules` without what project and map say. */
const retuneSchema = z
  .strictObject({
    bands: z.array(bandSchema).max(BANDS.length).readonly(),
    channels: z.strictObject({ '2.4': channels, '5': channels, '6': channels }).readonly(),
    widthsMhz: z.strictObject({ '2.4': widths, '5': widths, '6': widths }).readonly(),
    useDfs: z.boolean(),
    minPowerDbm: within(LIMITS.txPowerDbm),
    maxPowerDbm: within(LIMITS.txPowerDbm),
    headroomDb: within(LIMITS.headroomDb),
    planPower: z.boolean(),
    powerSpreadDb: within(LIMITS.powerSpreadDb),
    maySwitchOff24: z.boolean(),
    thresholdDbm: within(LIMITS.owedDbm),
    coverageShare: within({ min: 0, max: 1 }),
    changePenalty: within(LIMITS.changePenalty),
  })
  .readonly();

/** An alternative design of the same building: owns access points and walks. */
export const variant = kind({
  word: 'variant',
  keepOne: true,
  schema: z.strictObject({ id: idSchema, name: nameSchema, order: z.number().int().min(0).max(1000), retune: retuneSchema.nullable() }).readonly(),
  // Since version 2 the rules of its retune are kept with it.
  migrations: [(v1) => ({ ...v1, retune: null })],
});
