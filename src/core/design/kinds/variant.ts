import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { DFS_USES } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { bandSchema, idSchema, kind, nameSchema, widthSchema, within, type RawRecord } from './kind';

const channels = z.array(z.number().int().min(1).max(233)).max(LIMITS.forbiddenChannels).readonly();
const widths = z.array(widthSchema).max(5).readonly();

const byBand = {
  channels: z.strictObject({ '2.4': channels, '5': channels, '6': channels }).readonly(),
  widthsMhz: z.strictObject({ '2.4': widths, '5': widths, '6': widths }).readonly(),
};
const dfsSchema = z.enum(DFS_USES);

/** What a group of access points has of its own in a retune; null is as for all. */
const groupSchema = z
  .strictObject({
    name: nameSchema,
    apIds: z.array(idSchema).max(LIMITS.groupMembers).readonly(),
    channels: byBand.channels.nullable(),
    widthsMhz: byBand.widthsMhz.nullable(),
    dfs: dfsSchema.nullable(),
    minPowerDbm: within(LIMITS.txPowerDbm).nullable(),
    maxPowerDbm: within(LIMITS.txPowerDbm).nullable(),
    maySwitchOff24: z.boolean().nullable(),
  })
  .readonly();

/** The rules that a variant was last retuned under, as the engineer set them: `PlanRules` without what project and map say. */
const retuneSchema = z
  .strictObject({
    bands: z.array(bandSchema).max(BANDS.length).readonly(),
    ...byBand,
    dfs: dfsSchema,
    minPowerDbm: within(LIMITS.txPowerDbm),
    maxPowerDbm: within(LIMITS.txPowerDbm),
    headroomDb: within(LIMITS.headroomDb),
    planPower: z.boolean(),
    powerSpreadDb: within(LIMITS.powerSpreadDb),
    maySwitchOff24: z.boolean(),
    thresholdDbm: within(LIMITS.owedDbm),
    coverageShare: within({ min: 0, max: 1 }),
    changePenalty: within(LIMITS.changePenalty),
    mostChanges: within(LIMITS.mostChanges).int().nullable(),
    groups: z.array(groupSchema).max(LIMITS.ruleGroups).readonly(),
    /** All floors together, or the one in view. */
    building: z.boolean(),
    /** Whether a spot counts by the people expected there. */
    countPeople: z.boolean(),
    /** From so many starts it is searched, and the best is kept. */
    starts: within(LIMITS.starts).int(),
  })
  .readonly();

/** An alternative design of the same building: owns access points and walks. */
export const variant = kind({
  word: 'variant',
  keepOne: true,
  schema: z.strictObject({ id: idSchema, name: nameSchema, order: z.number().int().min(0).max(1000), retune: retuneSchema.nullable() }).readonly(),
  // Since version 2 the rules of its retune are kept with it.
  migrations: [
    (v1) => ({ ...v1, retune: null }),
    // Since version 3 radar detection may be used only among equals, and rules may differ by group.
    (v2) => {
      if (v2.retune === null) return v2;
      const { useDfs, ...kept } = v2.retune as RawRecord;
      const fresh = { dfs: useDfs === true ? 'if equal' : 'never', mostChanges: null, groups: [], building: false, countPeople: false, starts: 1 };
      return { ...v2, retune: { ...kept, ...fresh } };
    },
  ],
});
