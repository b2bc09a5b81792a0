import { UpperRoomError, ERROR_MESSAGES, type ErrorCode } from '@/core/errors';
import type { LoggedStep, NewProject, OpenedProject, PostStep, Problem, ProjectSummary, SampleBatch, StepAnswer } from '@/contract/http';
import type { Sample } from '@/core/survey/receiver';

const isKnown = (code: string): code is ErrorCode => code in ERROR_MESSAGES;

/** Sends a request; problems come back as UpperRoomError with the server's code. @throws UpperRoomError NETWORK_FAILED when no server answers */
async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      cache: 'no-store',
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  } catch (error) {
    throw new UpperRoomError('NETWORK_FAILED', { reason: error instanceof Error ? error.message : String(error) });
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T;
  // A gateway or a server that is just starting answers without problem details.
  if (response.status === 503 || !response.headers.get('content-type')?.includes('problem+json'))
    throw new UpperRoomError('NETWORK_FAILED', { status: response.status });
  const problem = (await response.json()) as Problem;
  throw new UpperRoomError(isKnown(problem.code) ? problem.code : 'SERVER_FAULT', {
    ...(problem.errors ? { errors: problem.errors } : {}),
    ...(problem.conflicts ? { conflicts: problem.conflicts } : {}),
    requestId: problem.requestId,
  });
}

const project = (id: string) => `/api/projects/${encodeURIComponent(id)}`;
const samples = (id: string, walkId: string) => `${project(id)}/walks/${encodeURIComponent(walkId)}/samples`;

/** The server, as the page sees it. */
export const api = {
  listProjects: () => send<ProjectSummary[]>('GET', '/api/projects'),
  createProject: (request: NewProject) => send<{ id: string }>('POST', '/api/projects', request),
  deleteProject: (id: string) => send<void>('DELETE', project(id)),
  restoreProject: (id: string) => send<void>('POST', `${project(id)}/restore`),
  openProject: (id: string) => send<OpenedProject>('GET', project(id)),
  postStep: (id: string, request: PostStep) => send<StepAnswer>('POST', `${project(id)}/steps`, request),
  stepsAfter: (id: string, revision: number) => send<LoggedStep[]>('GET', `${project(id)}/steps?after=${revision}`),
  getStep: (id: string, stepId: string) => send<LoggedStep>('GET', `${project(id)}/steps/${encodeURIComponent(stepId)}`),
  getSamples: (id: string, walkId: string) => send<Sample[]>('GET', samples(id, walkId)),
  postSamples: (id: string, walkId: string, batch: SampleBatch) => send<{ stored: number }>('POST', samples(id, walkId), batch),
  withdrawSamples: (id: string, walkId: string, afterMs: number) => send<{ withdrawn: number }>('DELETE', samples(id, walkId), { afterMs }),
  eventsUrl: (id: string) => `${project(id)}/events`,
};
