import { z } from 'zod';
import { bandSchema, height, idSchema, metres, widthSchema, within } from '@/core/design/kinds/kind';
import { LIMITS } from '@/core/design/limits';
import { SIGNAL_KINDS, type Hours } from '@/core/spectrum/signal';
import { SWEEP_LIMITS } from '@/core/spectrum/sweep';
import type { Interferer, SiteFault, SiteParameters } from '@/core/survey/site';

const hour = z.number().min(0).max(24);
const hoursSchema: z.ZodType<Hours> = z
  .array(z.tuple([hour, hour]).readonly())
  .max(12)
  .readonly();
const neighbourSchema = z.strictObject({
  bssid: z.string().max(17),
  ssid: z.string().max(32),
  xM: metres,
  yM: metres,
  heightM: height,
  band: bandSchema,
  channel: z.number().int().min(1).max(233),
  widthMhz: widthSchema,
  txPowerDbm: within(LIMITS.txPowerDbm),
  busy: z.number().min(0).max(0.9).optional(),
  hours: hoursSchema.optional(),
});
const interfererSchema: z.ZodType<Interferer> = z.strictObject({
  id: idSchema,
  kind: z.enum(SIGNAL_KINDS),
  xM: metres,
  yM: metres,
  // Above the floor, below it for what stands on a lower one.
  heightM: metres,
  eirpDbm: within(LIMITS.interferer.eirpDbm),
  centreMhz: within(SWEEP_LIMITS.mhz),
  hours: hoursSchema,
  works: z.strictObject({ onS: within(LIMITS.interferer.everyS), everyS: within(LIMITS.interferer.everyS) }).optional(),
});
const faultSchema: z.ZodType<SiteFault> = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('level'), apId: idSchema, offDb: within(LIMITS.siteFaultOffDb) }),
  z.strictObject({ kind: z.literal('elsewhere'), apId: idSchema, xM: metres, yM: metres }),
  z.strictObject({ kind: z.literal('height'), apId: idSchema, offM: within(LIMITS.siteFaultOffM) }),
  z.strictObject({ kind: z.literal('unplugged'), apId: idSchema }),
  z.strictObject({ kind: z.literal('channel'), apId: idSchema, band: bandSchema, channel: z.number().int().min(1).max(233), widthMhz: widthSchema }),
  z.strictObject({ kind: z.literal('swapped'), apIds: z.tuple([idSchema, idSchema]) }),
  z.strictObject({ kind: z.literal('obstacle'), axM: metres, ayM: metres, bxM: metres, byM: metres, materialId: idSchema }),
  z.strictObject({ kind: z.literal('no-wall'), wallId: idSchema }),
]);
/** What a floor is really like. Only the receiver's port, the training ground and who asks for the score know it. */
export const siteSchema: z.ZodType<SiteParameters> = z.strictObject({
  seed: z.number().int().min(-2_147_483_648).max(4_294_967_295),
  exponentOffset: within(LIMITS.site.exponentOffset),
  wallSigmaDb: within(LIMITS.site.wallSigmaDb),
  shadowSigmaDb: within(LIMITS.site.shadowSigmaDb),
  correlationM: within(LIMITS.site.correlationM),
  receiverOffsetDb: within(LIMITS.site.receiverOffsetDb),
  neighbours: z.array(neighbourSchema).max(LIMITS.neighbours),
  dropOutsPerHour: within(LIMITS.site.dropOutsPerHour).optional(),
  faults: z.array(faultSchema).max(LIMITS.siteFaults).optional(),
  interferers: z.array(interfererSchema).max(LIMITS.interferers).optional(),
});

/** POST /api/projects/:id/sites/:floorId: what a floor is to be like. */
export const putSiteSchema = z.strictObject({ site: siteSchema });
export const siteAnswerSchema = z.object({ site: siteSchema });

/** POST /api/projects/:id/score: how some walks of a floor and variant compare with the truth, in one band. */
export const scoreRequestSchema = z.strictObject({
  floorId: idSchema,
  variantId: idSchema,
  walkIds: z.array(idSchema).min(1).max(100),
  band: bandSchema,
  reachM: z.number().min(0.5).max(50),
});
export type ScoreRequest = z.infer<typeof scoreRequestSchema>;

const rms = z.number().nullable();
/** What the truth says of a survey: of the map, of how far each access point hangs from where it is drawn and from where it was found, in m, of what was hidden and what was told. */
export const scoreSchema = z.object({
  /** Spots and radios that were compared, root mean square of measured and of predicted level less the truth, in dB, and the share within the 90 % interval; null of nothing. */
  map: z.object({ compared: z.number().int(), measuredDb: rms, predictedDb: rms, held: rms }),
  positions: z.array(z.object({ apId: idSchema, designedAwayM: z.number(), foundAwayM: z.number().nullable() })),
  hidden: z.array(z.object({ fault: faultSchema, found: z.boolean() })),
  falseAlarms: z.number().int(),
});
export type Score = z.infer<typeof scoreSchema>;
