import { z } from 'zod';
import { PICTURE_TYPES, VECTOR_TYPES } from '@/core/formats/picture';
import { bandSchema, idSchema, nameSchema, within } from '@/core/design/kinds/kind';
import { receiverSettingSchema, walk } from '@/core/design/kinds/walk';
import { transferTest } from '@/core/design/kinds/transferTest';
import { LIMITS } from '@/core/design/limits';
import { ERROR_CODES } from '@/core/errors';
import type { Conflict } from '@/core/design/merge';
import { DOMAINS } from '@/core/radio/regulation';
import { SIGNAL_KINDS } from '@/core/spectrum/signal';
import { SWEEP_LIMITS } from '@/core/spectrum/sweep';
import type { Sample } from '@/core/survey/sample';
import type { Swept } from '@/core/survey/swept';
import type { Scan, ScanChannel } from '@/core/survey/setting';
import { designShapeSchema, stepSchema, tableSchema } from './steps';

const revisionSchema = z.number().int().min(0);

/** POST /api/projects/:id/steps */
export const postStepSchema = z.strictObject({ baseRevision: revisionSchema, step: stepSchema });
export type PostStep = z.infer<typeof postStepSchema>;

export const conflictSchema: z.ZodType<Conflict> = z.object({
  table: tableSchema,
  id: idSchema,
  field: z.string().nullable(),
  yours: z.unknown(),
  theirs: z.unknown(),
}) as unknown as z.ZodType<Conflict>;

/** A step as it stands in the log, with the revision it made. */
export const loggedStepSchema = z.object({ revision: revisionSchema, step: stepSchema });
export type LoggedStep = z.infer<typeof loggedStepSchema>;
export const stepAnswerSchema = loggedStepSchema.extend({ conflicts: z.array(conflictSchema) });
export type StepAnswer = z.infer<typeof stepAnswerSchema>;

/** A line of the log: who did what when, without the changes. */
export const logLineSchema = z.object({
  revision: revisionSchema,
  id: idSchema,
  title: z.string(),
  kind: z.enum(['do', 'undo', 'redo']),
  ofStepId: idSchema.nullable(),
  author: idSchema.nullable(),
  at: z.iso.datetime(),
});
export type LogLine = z.infer<typeof logLineSchema>;

/** POST /api/projects */
export const newProjectSchema = z.union([
  z.strictObject({
    name: nameSchema,
    units: z.enum(['metric', 'us']),
    domain: z.enum(DOMAINS),
    widthM: within(LIMITS.planSideM),
    heightM: within(LIMITS.planSideM),
  }),
  z.strictObject({ copyOf: idSchema, name: nameSchema }),
]);
export type NewProject = z.infer<typeof newProjectSchema>;
export const createdSchema = z.object({ id: idSchema });

/** What a small plan picture needs: the lowest floor's outline and walls, and the access points of the last variant there. */
export const planPictureSchema = z.object({
  outline: z.array(z.object({ xM: z.number(), yM: z.number() })),
  walls: z.array(z.tuple([z.number(), z.number(), z.number(), z.number()])),
  accessPoints: z.array(z.tuple([z.number(), z.number()])),
});
export type PlanPicture = z.infer<typeof planPictureSchema>;

export const projectSummarySchema = z.object({
  id: idSchema,
  name: z.string(),
  revision: revisionSchema,
  changedAt: z.iso.datetime(),
  accessPoints: z.number().int(),
  floors: z.number().int(),
  picture: planPictureSchema.nullable(),
  /** Why the project cannot be opened, in words; null for one that can. */
  problem: z.enum(ERROR_CODES).nullable(),
});
export type ProjectSummary = z.infer<typeof projectSummarySchema>;

/** GET /api/projects: a page of them, newest change first. `next` is what to ask after; null on the last page. */
export const projectPageSchema = z.object({ projects: z.array(projectSummarySchema), next: z.string().nullable(), total: z.number().int() });
export type ProjectPage = z.infer<typeof projectPageSchema>;

/** GET /api/projects/:id. `log` holds the latest steps without their changes, for undo; `unreadable` the records that were set aside. */
export const openedProjectSchema = z.object({
  id: idSchema,
  revision: revisionSchema,
  design: designShapeSchema,
  versions: z.record(z.string(), z.number().int()),
  unreadable: z.array(z.object({ table: z.string(), id: z.string(), problem: z.string() })),
  log: z.array(logLineSchema),
});
export type OpenedProject = z.infer<typeof openedProjectSchema>;

export const sampleSchema: z.ZodType<Sample> = z.strictObject({
  leg: z.number().int().min(0).max(LIMITS.legs),
  tMs: z.number().min(0).max(1e9),
  xM: within(LIMITS.coordinateM),
  yM: within(LIMITS.coordinateM),
  bssid: z.string().regex(/^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/),
  ssid: z.string().max(32),
  apId: idSchema.nullable(),
  band: bandSchema,
  channel: z.number().int().min(1).max(233),
  widthMhz: z.number().int().min(20).max(320),
  rssiDbm: z.number().int().min(-120).max(0),
});

export const scanChannelSchema: z.ZodType<ScanChannel> = z.strictObject({ band: bandSchema, channel: z.number().int().min(1).max(233) });
export const scanSchema: z.ZodType<Scan> = z.strictObject({
  leg: z.number().int().min(0).max(LIMITS.legs),
  fromMs: z.number().min(0).max(1e9),
  toMs: z.number().min(0).max(1e9),
  dwellMs: within(LIMITS.dwellMs),
  channels: z.array(scanChannelSchema).max(3 * LIMITS.scannedChannels),
  ssid: z.string().max(32),
});

/** Of more channels no look consists. */
const MOST_SWEPT = 30;
const sweptLevel = z.number().min(-150).max(60);
export const sweptSchema: z.ZodType<Swept> = z.strictObject({
  leg: z.number().int().min(0).max(LIMITS.legs),
  tMs: z.number().min(0).max(1e9),
  band: bandSchema,
  channels: z
    .array(z.strictObject({ channel: z.number().int().min(1).max(233), energyDbm: sweptLevel, noiseDbm: sweptLevel }))
    .min(1)
    .max(MOST_SWEPT),
  signals: z
    .array(
      z.strictObject({ kind: z.enum(SIGNAL_KINDS), levelDbm: sweptLevel, centreMhz: within(SWEEP_LIMITS.mhz), likelihood: z.number().min(0).max(1) }),
    )
    .max(MOST_SWEPT),
});

/** GET /api/projects/:id/walks/:walkId/samples: all that a walk brought. */
export const heardOnWalkSchema = z.object({ samples: z.array(sampleSchema), scans: z.array(scanSchema), swept: z.array(sweptSchema) });

/** Samples that go to the server at once. */
export const MOST_IN_BATCH = 5000;

/**
 * POST /api/projects/:id/walks/:walkId/samples: an idempotent batch, with when what was listened to and what was swept. Sending one again with the same id changes nothing.
 */
export const samplesSchema = z
  .strictObject({
    batchId: idSchema,
    samples: z.array(sampleSchema).max(MOST_IN_BATCH),
    scans: z.array(scanSchema).max(500).default([]),
    swept: z.array(sweptSchema).max(MOST_IN_BATCH).default([]),
  })
  .refine(({ samples, scans, swept }) => samples.length + scans.length + swept.length > 0, { message: 'must hold something', path: ['samples'] });
export type SampleBatch = Omit<z.infer<typeof samplesSchema>, 'scans' | 'swept'> & { scans?: Scan[]; swept?: Swept[] };

/** DELETE /api/projects/:id/walks/:walkId/samples: takes back what came after an undone turn, once for each id. */
export const withdrawSchema = z.strictObject({ withdrawalId: idSchema, afterMs: z.number().min(0).max(1e9) });
export type Withdrawal = z.infer<typeof withdrawSchema>;

/** Walking time that the receiver is asked about at once, in ms. */
export const MAX_LISTEN_MS = 120_000;

/** POST /api/projects/:id/receiver: what the simulated receiver hears on a stretch of a walk. */
export const listenSchema = z
  .strictObject({
    floorId: idSchema,
    variantId: idSchema,
    legs: walk.schema.unwrap().shape.legs,
    receiver: receiverSettingSchema,
    fromMs: z.number().min(0).max(1e9),
    toMs: z.number().min(0).max(1e9),
  })
  .refine(({ fromMs, toMs }) => toMs > fromMs && toMs - fromMs <= MAX_LISTEN_MS, {
    message: `must be a stretch of at most ${MAX_LISTEN_MS / 1000} s`,
    path: ['toMs'],
  });
export type Listen = z.infer<typeof listenSchema>;
export const heardSchema = heardOnWalkSchema.extend({ channels: z.number().int() });
export type HeardOnSite = z.infer<typeof heardSchema>;

/** POST /api/projects/:id/transfers: a throughput test at a spot of the simulated site, now. */
export const transferRequestSchema = z.strictObject({
  floorId: idSchema,
  variantId: idSchema,
  xM: within(LIMITS.coordinateM),
  yM: within(LIMITS.coordinateM),
  runs: within(LIMITS.transferRuns).int(),
  receiver: receiverSettingSchema,
  clientId: idSchema,
  at: z.iso.datetime(),
});
export type TransferRequest = z.infer<typeof transferRequestSchema>;
/** Who served, how it was heard, and each run; null where nothing of the project's own is heard. */
export const transferAnswerSchema = transferTest.schema
  .unwrap()
  .pick({
    apName: true,
    bssid: true,
    band: true,
    channel: true,
    widthMhz: true,
    rssiDbm: true,
    snrDb: true,
    runs: true,
  })
  .nullable();
export type TransferAnswer = z.infer<typeof transferAnswerSchema>;

/** Events of a project. */
export const projectEventSchema = z.discriminatedUnion('type', [
  /** First, and after every interruption: where the project stands. */
  z.strictObject({ type: z.literal('hello'), revision: revisionSchema }),
  z.strictObject({ type: z.literal('step'), revision: revisionSchema, step: stepSchema }),
  z.strictObject({ type: z.literal('samples'), walkId: idSchema }),
  z.strictObject({ type: z.literal('deleted') }),
  z.strictObject({ type: z.literal('restored') }),
]);
export type ProjectEvent = z.infer<typeof projectEventSchema>;

/** GET /api/events?project=A&project=B: the events of several projects in one stream. */
export const streamEventSchema = z.strictObject({ projectId: idSchema, event: projectEventSchema });
export type StreamEvent = z.infer<typeof streamEventSchema>;
/** As many projects as one browser may have open. */
export const MAX_STREAMED_PROJECTS = 32;

/** What a page keeps until the server has it: steps, sample batches and withdrawals, in the order they were made. */
export const outgoingSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('step'), projectId: idSchema, baseRevision: revisionSchema.default(0), step: stepSchema }),
  z.strictObject({ kind: z.literal('samples'), projectId: idSchema, walkId: idSchema, batch: samplesSchema }),
  z.strictObject({
    kind: z.literal('withdraw'),
    projectId: idSchema,
    walkId: idSchema,
    withdrawalId: idSchema.default('before-ids-were-kept'),
    afterMs: z.number().min(0),
  }),
]);
export type Outgoing = z.infer<typeof outgoingSchema>;

/** RFC 9457 problem details, with our code and what to do. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  code: z.string(),
  requestId: z.string(),
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  conflicts: z.array(conflictSchema).optional(),
});
export type Problem = z.infer<typeof problemSchema>;

/** The largest body the server reads, in bytes, and the deepest it may be nested. */
export const MAX_BODY_BYTES = 8 * 1024 * 1024;
export const MAX_BODY_DEPTH = 24;

/** A file that the server keeps: the hash of its bytes, what it is, and of a picture how large. */
export const storedAssetSchema = z.strictObject({
  id: z.string().regex(/^[0-9a-f]{64}$/),
  type: z.enum([...PICTURE_TYPES, ...VECTOR_TYPES]),
  widthPx: z.number().int().positive().nullable(),
  heightPx: z.number().int().positive().nullable(),
});
export type StoredAsset = z.infer<typeof storedAssetSchema>;
