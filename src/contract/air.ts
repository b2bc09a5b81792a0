import { z } from 'zod';
import { bandSchema, idSchema, within } from '@/core/design/kinds/kind';
import { LIMITS } from '@/core/design/limits';
import { GENERATIONS } from '@/core/radio/rates';
import { SECURITIES } from '@/core/air/radio';
import { FEATURES } from '@/core/spectrum/profiles';
import { SIGNAL_KINDS } from '@/core/spectrum/signal';
import { SWEEP_LIMITS, type SweepSetting } from '@/core/spectrum/sweep';

/** Simulated time that the port is asked about, in ms since the midnight of some day: up to 30 days on. */
const time = z
  .number()
  .min(0)
  .max(30 * 86_400_000);
export const AIR_LIMITS = {
  dwellMs: { min: 10, max: 2000 },
  intervalMs: { min: 0, max: 600_000 },
  /** Simulated time of one question about networks. */
  stretchMs: 3_600_000,
  rounds: 60,
  sweeps: 60,
  /** Channels that are dwelt on in one question. */
  channels: 120,
} as const;

/** Where the receiver is: at a spot of a floor, or where an access point hangs, without what that one sends itself. */
const whereSchema = z.strictObject({
  floorId: idSchema,
  variantId: idSchema,
  xM: within(LIMITS.coordinateM),
  yM: within(LIMITS.coordinateM),
  apId: idSchema.nullable(),
});
export type AirWhere = z.infer<typeof whereSchema>;

const channelSchema = z.strictObject({ band: bandSchema, channel: z.number().int().min(1).max(233) });

export const sweepSettingSchema: z.ZodType<SweepSetting> = z.strictObject({
  startMhz: within(SWEEP_LIMITS.mhz),
  stopMhz: within(SWEEP_LIMITS.mhz),
  bins: within(SWEEP_LIMITS.bins).int(),
  rbwKhz: within(SWEEP_LIMITS.rbwKhz),
  sweepMs: within(SWEEP_LIMITS.sweepMs),
  detector: z.enum(['peak', 'mean']),
});

const questionSchema = z.discriminatedUnion('what', [
  z
    .strictObject({
      what: z.literal('networks'),
      scan: z.strictObject({
        channels: z.array(channelSchema).min(1).max(AIR_LIMITS.channels),
        dwellMs: within(AIR_LIMITS.dwellMs),
        intervalMs: within(AIR_LIMITS.intervalMs),
      }),
      fromMs: time,
      toMs: time,
      /** As many rounds at most: where there were more, fewer are made. */
      most: z.number().int().min(1).max(AIR_LIMITS.rounds),
    })
    .refine(({ fromMs, toMs }) => toMs > fromMs && toMs - fromMs <= AIR_LIMITS.stretchMs, {
      message: 'must be a stretch of an hour at most',
      path: ['toMs'],
    }),
  z.strictObject({
    what: z.literal('load'),
    channels: z.array(channelSchema).min(1).max(AIR_LIMITS.channels),
    dwellMs: within(AIR_LIMITS.dwellMs),
    fromMs: time,
  }),
  z.strictObject({ what: z.literal('sweeps'), setting: sweepSettingSchema, fromMs: time, count: z.number().int().min(1).max(AIR_LIMITS.sweeps) }),
  z
    .strictObject({ what: z.literal('identify'), startMhz: within(SWEEP_LIMITS.mhz), stopMhz: within(SWEEP_LIMITS.mhz), fromMs: time })
    .refine(({ startMhz, stopMhz }) => stopMhz - startMhz >= 5 && stopMhz - startMhz <= 170, {
      message: 'must be 5 to 170 MHz above the start',
      path: ['stopMhz'],
    }),
]);
export type AirQuestion = z.infer<typeof questionSchema>;

/** POST /api/projects/:id/air: what the instruments measure at a spot of the simulated site, at a simulated time. */
export const airRequestSchema = z.strictObject({ where: whereSchema, asked: questionSchema });
export type AirRequest = z.infer<typeof airRequestSchema>;

const broadcastSchema = z.object({
  bssid: z.string(),
  ssid: z.string(),
  generation: z.enum(GENERATIONS),
  streams: z.number(),
  basicMbps: z.array(z.number()).readonly(),
  security: z.enum(SECURITIES),
  country: z.string().nullable(),
  tellsLoad: z.boolean(),
});
const readingSchema = z.object({
  network: broadcastSchema,
  band: bandSchema,
  channel: z.number(),
  widthMhz: z.number(),
  dbm: z.number(),
  load: z.number().nullable(),
  clients: z.number().nullable(),
});
const takerSchema = z.object({
  bssid: z.string(),
  ssid: z.string(),
  apId: z.string().nullable(),
  channel: z.number(),
  widthMhz: z.number(),
  levelDbm: z.number(),
  share: z.number(),
});
const loadSchema = z.object({
  band: bandSchema,
  channel: z.number(),
  ms: z.number(),
  ours: z.number(),
  others: z.number(),
  notWifi: z.number(),
  energyDbm: z.number(),
  noiseDbm: z.number(),
  takers: z.array(takerSchema),
});
const identifiedSchema = z.object({
  kind: z.enum([...SIGNAL_KINDS, 'not known']),
  likelihood: z.number(),
  evidence: z.array(z.object({ feature: z.enum(FEATURES), value: z.number(), usual: z.number(), off: z.number() })),
  bursts: z.number(),
  centreMhz: z.number(),
  fromMhz: z.number(),
  toMhz: z.number(),
  levelDbm: z.number(),
  duty: z.number(),
  second: z.object({ kind: z.enum(SIGNAL_KINDS), likelihood: z.number() }).nullable(),
});

/** Levels of a sweep in tenths of a dBm: within a process as numbers, on the wire as base64 of 16 bits each, low octet first. */
type Levels = z.ZodType<Int16Array>;
const packedLevels = z
  .string()
  .max(8 * SWEEP_LIMITS.bins.max)
  .transform((text) => {
    const octets = Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));
    return new Int16Array(octets.buffer, 0, octets.length >> 1);
  });
const answers = <L extends Levels>(levels: L) =>
  z.discriminatedUnion('what', [
    z.object({ what: z.literal('networks'), rounds: z.array(z.object({ atMs: z.number(), readings: z.array(readingSchema) })) }),
    z.object({ what: z.literal('load'), loads: z.array(loadSchema) }),
    z.object({ what: z.literal('sweeps'), sweeps: z.array(z.object({ atMs: z.number(), tenthsDbm: levels })) }),
    z.object({ what: z.literal('identify'), found: z.array(identifiedSchema), forMs: z.number() }),
  ]);
export const airAnswerSchema = answers(packedLevels);
export type AirAnswer = z.infer<ReturnType<typeof answers<Levels>>>;
export type AnswerTo<W extends AirQuestion['what']> = Extract<AirAnswer, { what: W }>;
