import { z } from 'zod';
import { BANDS, WIDTHS_MHZ } from '@/core/radio/band';
import { channelExists } from '@/core/radio/channel';
import { AP_MODELS } from '@/core/radio/catalogue';
import { DOMAINS } from '@/core/radio/regulation';
import { MATERIALS } from '@/core/building/material';
import { OPENING_KINDS } from '@/core/building/wall';
import { ENVIRONMENTS } from '@/core/propagation/pathLoss';
import { PROJECT_ID, ZONE_KINDS, type Design, type RecordOf, type Table } from '@/core/design/design';

/** Limits of every value that an engineer can enter. Forms, the server and the file reader all read them here. */
export const LIMITS = {
  coordinateM: { min: -1000, max: 2000 },
  heightM: { min: 0, max: 50 },
  txPowerDbm: { min: -10, max: 36 },
  azimuthDeg: { min: 0, max: 360 },
  tiltDeg: { min: -90, max: 90 },
  cellM: { min: 0.1, max: 5 },
  nameLength: 120,
  polygonPoints: 500,
  turnsPerLeg: 2000,
  legs: 500,
  neighbours: 200,
  changesPerStep: 20_000,
} as const;

const metres = z.number().min(LIMITS.coordinateM.min).max(LIMITS.coordinateM.max);
const height = z.number().min(LIMITS.heightM.min).max(LIMITS.heightM.max);
export const idSchema = z.string().regex(/^[A-Za-z0-9_-]{1,64}$/, 'must be 1 to 64 letters, digits, - or _');
const name = z.string().trim().min(1, 'needs a name').max(LIMITS.nameLength);
const point = z.strictObject({ xM: metres, yM: metres });
const polygon = z.array(point).min(3).max(LIMITS.polygonPoints);
const band = z.enum(BANDS);
const widthMhz = z.literal([...WIDTHS_MHZ]);

const project = z.strictObject({
  id: z.literal(PROJECT_ID),
  name,
  units: z.enum(['metric', 'us']),
  domain: z.enum(DOMAINS),
  clientHeightM: height,
  cellM: z.number().min(LIMITS.cellM.min).max(LIMITS.cellM.max),
});

const floor = z.strictObject({
  id: idSchema,
  name,
  elevationM: z.number().min(-100).max(1000),
  ceilingM: z.number().min(1).max(50),
  environment: z.enum(ENVIRONMENTS),
  outline: polygon,
});
const variant = z.strictObject({ id: idSchema, name, order: z.number().int().min(0).max(1000) });

const wall = z
  .strictObject({
    id: idSchema,
    floorId: idSchema,
    axM: metres,
    ayM: metres,
    bxM: metres,
    byM: metres,
    baseM: height,
    topM: height,
    materialId: z.enum(MATERIALS.map((m) => m.id) as [string, ...string[]]),
  })
  .refine((w) => Math.hypot(w.bxM - w.axM, w.byM - w.ayM) >= 0.05, { message: 'a wall must be at least 0.05 m long', path: ['bxM'] })
  .refine((w) => w.topM > w.baseM, { message: 'the top must be above the base', path: ['topM'] });

const opening = z
  .strictObject({
    id: idSchema,
    wallId: idSchema,
    kind: z.enum(OPENING_KINDS),
    atM: z.number().min(0).max(2000),
    widthM: z.number().min(0.1).max(200),
    sillM: height,
    headM: height,
    materialId: z.enum(MATERIALS.map((m) => m.id) as [string, ...string[]]),
  })
  .refine((o) => o.headM > o.sillM, { message: 'the head must be above the sill', path: ['headM'] });

const zone = z.strictObject({ id: idSchema, floorId: idSchema, kind: z.enum(ZONE_KINDS), name, polygon });

const radio = z
  .strictObject({
    band,
    on: z.boolean(),
    channel: z.number().int().min(1).max(233),
    widthMhz,
    txPowerDbm: z.number().min(LIMITS.txPowerDbm.min).max(LIMITS.txPowerDbm.max),
    pinned: z.boolean(),
  })
  .refine((r) => channelExists({ band: r.band, primary: r.channel, widthMhz: r.widthMhz }), {
    message: 'this band has no such channel at this width',
    path: ['channel'],
  });

const accessPoint = z.strictObject({
  id: idSchema,
  variantId: idSchema,
  floorId: idSchema,
  name,
  modelId: z.enum(AP_MODELS.map((m) => m.id) as [string, ...string[]]),
  xM: metres,
  yM: metres,
  heightM: height,
  azimuthDeg: z.number().min(LIMITS.azimuthDeg.min).max(LIMITS.azimuthDeg.max),
  tiltDeg: z.number().min(LIMITS.tiltDeg.min).max(LIMITS.tiltDeg.max),
  pinned: z.boolean(),
  radios: z
    .array(radio)
    .max(BANDS.length)
    .refine((radios) => new Set(radios.map((r) => r.band)).size === radios.length, { message: 'one radio per band' }),
});

const turn = z.strictObject({ xM: metres, yM: metres, tMs: z.number().min(0).max(1e9) });
const walk = z.strictObject({
  id: idSchema,
  variantId: idSchema,
  floorId: idSchema,
  name,
  startedAt: z.iso.datetime(),
  finished: z.boolean(),
  legs: z.array(z.strictObject({ turns: z.array(turn).max(LIMITS.turnsPerLeg) })).max(LIMITS.legs),
});

const neighbour = z.strictObject({
  bssid: z.string().max(17),
  ssid: z.string().max(32),
  xM: metres,
  yM: metres,
  heightM: height,
  band,
  channel: z.number().int().min(1).max(233),
  widthMhz,
  txPowerDbm: z.number().min(-10).max(36),
});
const site = z.strictObject({
  id: idSchema,
  floorId: idSchema,
  seed: z.number().int(),
  exponentOffset: z.number().min(-1).max(2),
  wallSigmaDb: z.number().min(0).max(10),
  shadowSigmaDb: z.number().min(0).max(12),
  correlationM: z.number().min(0.5).max(50),
  receiverOffsetDb: z.number().min(-20).max(20),
  neighbours: z.array(neighbour).max(LIMITS.neighbours),
});

/** One schema per table; each gives exactly the core's type. */
export const RECORD_SCHEMAS: { [T in Table]: z.ZodType<RecordOf<T>> } = {
  project,
  floors: floor,
  variants: variant,
  walls: wall,
  openings: opening,
  zones: zone,
  accessPoints: accessPoint,
  walks: walk,
  sites: site,
};

const table = <T extends Table>(t: T) => z.record(idSchema, RECORD_SCHEMAS[t]);

/** A whole design, as the server sends it. */
export const designSchema: z.ZodType<Design> = z.strictObject({
  project: table('project'),
  floors: table('floors'),
  variants: table('variants'),
  walls: table('walls'),
  openings: table('openings'),
  zones: table('zones'),
  accessPoints: table('accessPoints'),
  walks: table('walks'),
  sites: table('sites'),
}) as z.ZodType<Design>;
