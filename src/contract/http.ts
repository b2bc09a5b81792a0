import { z } from 'zod';
import { BANDS } from '@/core/radio/band';
import { DOMAINS } from '@/core/radio/regulation';
import { TABLES, type Design } from '@/core/design/design';
import type { Change, Step } from '@/core/design/step';
import type { Conflict } from '@/core/design/merge';
import type { Sample } from '@/core/survey/receiver';
import { LIMITS, RECORD_SCHEMAS, idSchema } from './records';

/** A change as it arrives: `before` is only compared, so any JSON object will do; `after` must be a valid record of its table. */
const changeSchema = z.discriminatedUnion(
  'table',
  TABLES.map((table) =>
    z
      .strictObject({
        table: z.literal(table),
        id: idSchema,
        before: z.record(z.string(), z.unknown()).nullable(),
        after: (RECORD_SCHEMAS[table] as z.ZodType<unknown>).nullable(),
      })
      .refine((change) => change.after === null || (change.after as { id: string }).id === change.id, {
        message: 'the record must carry the id of its change',
        path: ['after', 'id'],
      })
      .refine((change) => change.before !== null || change.after !== null, { message: 'a change needs a record before or after', path: ['after'] }),
  ) as never,
) as unknown as z.ZodType<Change>;

export const stepSchema: z.ZodType<Step> = z.strictObject({
  id: idSchema,
  title: z.string().trim().min(1).max(200),
  kind: z.enum(['do', 'undo', 'redo']),
  ofStepId: idSchema.nullable(),
  changes: z.array(changeSchema).min(1).max(LIMITS.changesPerStep),
});

/** POST /api/projects/:id/steps */
export const postStepSchema = z.strictObject({ baseRevision: z.number().int().min(0), step: stepSchema });
export type PostStep = z.infer<typeof postStepSchema>;

/** A step as it stands in the log, with the revision it made. */
export type LoggedStep = Readonly<{ revision: number; step: Step }>;
export type StepAnswer = LoggedStep & Readonly<{ conflicts: readonly Conflict[] }>;

/** POST /api/projects */
export const newProjectSchema = z.union([
  z.strictObject({
    name: z.string().trim().min(1).max(LIMITS.nameLength),
    units: z.enum(['metric', 'us']),
    domain: z.enum(DOMAINS),
    widthM: z.number().min(1).max(1000),
    heightM: z.number().min(1).max(1000),
  }),
  z.strictObject({ copyOf: idSchema, name: z.string().trim().min(1).max(LIMITS.nameLength) }),
]);
export type NewProject = z.infer<typeof newProjectSchema>;

export type ProjectSummary = Readonly<{
  id: string;
  name: string;
  revision: number;
  changedAt: string;
  accessPoints: number;
  floors: number;
  picture: PlanPicture | null;
}>;
/** What a small plan picture needs: the lowest floor's outline and walls, and the access points of the first variant there. */
export type PlanPicture = Readonly<{
  outline: ReadonlyArray<{ xM: number; yM: number }>;
  walls: ReadonlyArray<readonly [number, number, number, number]>;
  accessPoints: ReadonlyArray<readonly [number, number]>;
}>;

/** GET /api/projects/:id. `log` holds the latest steps without their changes, for undo. */
export type OpenedProject = Readonly<{
  id: string;
  revision: number;
  design: Design;
  log: ReadonlyArray<Pick<Step, 'id' | 'title' | 'kind' | 'ofStepId'>>;
}>;

const sampleSchema: z.ZodType<Sample> = z.strictObject({
  leg: z.number().int().min(0).max(LIMITS.legs),
  tMs: z.number().min(0).max(1e9),
  xM: z.number().min(-1000).max(2000),
  yM: z.number().min(-1000).max(2000),
  bssid: z.string().regex(/^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/),
  ssid: z.string().max(32),
  apId: idSchema.nullable(),
  band: z.enum(BANDS),
  channel: z.number().int().min(1).max(233),
  widthMhz: z.number().int().min(20).max(320),
  rssiDbm: z.number().int().min(-120).max(0),
});

/** POST /api/projects/:id/walks/:walkId/samples: an idempotent batch. Sending one again with the same id changes nothing. */
export const samplesSchema = z.strictObject({ batchId: idSchema, samples: z.array(sampleSchema).min(1).max(5000) });
export type SampleBatch = z.infer<typeof samplesSchema>;

/** DELETE /api/projects/:id/walks/:walkId/samples: takes back what came after an undone turn. */
export const withdrawSchema = z.strictObject({ afterMs: z.number().min(0).max(1e9) });

/** Events a window listens to. */
export const projectEventSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('step'), revision: z.number().int(), step: stepSchema }),
  z.strictObject({ type: z.literal('samples'), walkId: idSchema }),
  z.strictObject({ type: z.literal('deleted') }),
  z.strictObject({ type: z.literal('restored') }),
]);
export type ProjectEvent = z.infer<typeof projectEventSchema>;

/** What the event stream says first. */
export const helloSchema = z.object({ revision: z.number().int().min(0) });

/** What a page keeps until the server has it: steps, sample batches and withdrawals, in the order they were made. */
export const outgoingSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('step'), projectId: idSchema, step: stepSchema }),
  z.strictObject({ kind: z.literal('samples'), projectId: idSchema, walkId: idSchema, batch: samplesSchema }),
  z.strictObject({ kind: z.literal('withdraw'), projectId: idSchema, walkId: idSchema, afterMs: z.number().min(0) }),
]);
export type Outgoing = z.infer<typeof outgoingSchema>;

/** RFC 9457 problem details, with our code and what to do. */
export type Problem = Readonly<{
  type: string;
  title: string;
  status: number;
  detail: string;
  code: string;
  requestId: string;
  errors?: ReadonlyArray<{ path: string; message: string }>;
  conflicts?: readonly Conflict[];
}>;

/** The largest body the server reads, in bytes. */
export const MAX_BODY_BYTES = 8 * 1024 * 1024;
