import { z } from 'zod';
import { airAnswerSchema, type AirRequest } from '@/contract/air';
import { scoreSchema, siteAnswerSchema, type ScoreRequest } from '@/contract/site';
import type { SiteParameters } from '@/core/survey/site';
import { UpperRoomError, ERROR_MESSAGES, type ErrorCode } from '@/core/errors';
import {
  createdSchema,
  heardSchema,
  loggedStepSchema,
  logLineSchema,
  openedProjectSchema,
  problemSchema,
  projectPageSchema,
  heardOnWalkSchema,
  stepAnswerSchema,
  storedAssetSchema,
  transferAnswerSchema,
  type TransferRequest,
  type Listen,
  type NewProject,
  type PostStep,
  type SampleBatch,
  type Withdrawal,
} from '@/contract/http';

/** An answer that takes longer is taken for none: what was asked can be asked again. */
const TIMEOUT_MS = 30_000;
/** A picture over a slow line. */
const SLOW_MS = 120_000;

const isKnown = (code: string): code is ErrorCode => Object.hasOwn(ERROR_MESSAGES, code);

/**
 * Sends a request and parses the answer; problems come back as UpperRoomError with the server's code.
 * @throws UpperRoomError NETWORK_FAILED when no server answers, too late, or not to its end
 */
async function send<T>(answer: z.ZodType<T>, method: string, path: string, body?: unknown, timeoutMs = TIMEOUT_MS): Promise<T> {
  let response: Response;
  let text: string;
  try {
    response = await fetch(path, {
      method,
      cache: 'no-store',
      signal: AbortSignal.timeout(timeoutMs),
      ...(body === undefined
        ? {}
        : body instanceof Blob
          ? { body, headers: { 'content-type': 'application/octet-stream' } }
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    text = await response.text();
  } catch (error) {
    throw new UpperRoomError('NETWORK_FAILED', { reason: error instanceof Error ? error.message : String(error) });
  }
  if (response.ok) return parsed(answer, text);
  // A gateway or a server that is just starting answers without problem details.
  if (!response.headers.get('content-type')?.includes('problem+json')) throw new UpperRoomError('NETWORK_FAILED', { status: response.status });
  const problem = parsed(problemSchema, text);
  throw new UpperRoomError(isKnown(problem.code) ? problem.code : 'SERVER_FAULT', {
    ...(problem.errors ? { errors: problem.errors } : {}),
    ...(problem.conflicts ? { conflicts: problem.conflicts } : {}),
    requestId: problem.requestId,
  });
}

/** What came, as what it should be; cut off or otherwise unreadable counts as not come. A newer step in it is told as such. */
function parsed<T>(answer: z.ZodType<T>, text: string): T {
  let json: unknown;
  try {
    json = text === '' ? undefined : JSON.parse(text);
  } catch (error) {
    throw new UpperRoomError('NETWORK_FAILED', { reason: `the answer was cut off: ${(error as Error).message}` });
  }
  const result = answer.safeParse(json);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw new UpperRoomError('NETWORK_FAILED', { reason: `the answer cannot be read at ${issue?.path.join('.')}: ${issue?.message}` });
}

const project = (id: string) => `/api/projects/${encodeURIComponent(id)}`;
const samples = (id: string, walkId: string) => `${project(id)}/walks/${encodeURIComponent(walkId)}/samples`;
const nothing = z.undefined();

/** Where a picture of a project is found. */
export const assetUrl = (id: string, assetId: string): string => `${project(id)}/assets/${assetId}`;

/** Where a project is had as a file. */
export const projectFileUrl = (id: string): string => `${project(id)}/file`;

/** The server, as the page sees it. */
export const api = {
  listProjects: (find: string, after: string | null) =>
    send(projectPageSchema, 'GET', `/api/projects?${new URLSearchParams({ find, ...(after === null ? {} : { after }) })}`),
  createProject: (request: NewProject) => send(createdSchema, 'POST', '/api/projects', request),
  /** Makes a project of a file. */
  postProjectFile: (file: Blob) => send(createdSchema, 'POST', '/api/projects/file', file, SLOW_MS),
  deleteProject: (id: string) => send(nothing, 'DELETE', project(id)),
  restoreProject: (id: string) => send(nothing, 'POST', `${project(id)}/restore`),
  openProject: (id: string) => send(openedProjectSchema, 'GET', project(id)),
  postStep: (id: string, request: PostStep) => send(stepAnswerSchema, 'POST', `${project(id)}/steps`, request),
  stepsAfter: (id: string, revision: number) => send(z.array(loggedStepSchema), 'GET', `${project(id)}/steps?after=${revision}`),
  getStep: (id: string, stepId: string) => send(loggedStepSchema, 'GET', `${project(id)}/steps/${encodeURIComponent(stepId)}`),
  logUpTo: (id: string, revision: number) => send(z.array(logLineSchema), 'GET', `${project(id)}/log?upTo=${revision}`),
  listen: (id: string, stretch: Listen) => send(heardSchema, 'POST', `${project(id)}/receiver`, stretch),
  getSite: (id: string, floorId: string) => send(siteAnswerSchema, 'GET', `${project(id)}/sites/${encodeURIComponent(floorId)}`),
  putSite: (id: string, floorId: string, site: SiteParameters) =>
    send(siteAnswerSchema, 'POST', `${project(id)}/sites/${encodeURIComponent(floorId)}`, { site }),
  score: (id: string, asked: ScoreRequest) => send(scoreSchema, 'POST', `${project(id)}/score`, asked, SLOW_MS),
  air: (id: string, asked: AirRequest) => send(airAnswerSchema, 'POST', `${project(id)}/air`, asked),
  transfer: (id: string, asked: TransferRequest) => send(transferAnswerSchema, 'POST', `${project(id)}/transfers`, asked),
  postAsset: (id: string, picture: Blob) => send(storedAssetSchema, 'POST', `${project(id)}/assets`, picture, SLOW_MS),
  getHeard: (id: string, walkId: string) => send(heardOnWalkSchema, 'GET', samples(id, walkId)),
  postSamples: (id: string, walkId: string, batch: SampleBatch) => send(z.object({ stored: z.number() }), 'POST', samples(id, walkId), batch),
  withdrawSamples: (id: string, walkId: string, withdrawal: Withdrawal) =>
    send(z.object({ withdrawn: z.number() }), 'DELETE', samples(id, walkId), withdrawal),
};
