import { randomUUID } from 'node:crypto';
import pino from 'pino';
import { z } from 'zod';
import { ERROR_MESSAGES, UpperRoomError, type ErrorCode } from '@/core/errors';
import { MAX_BODY_BYTES, type Problem } from '@/contract/http';
import { idSchema } from '@/contract/records';
import type { Conflict } from '@/core/design/merge';
import type { Database } from './database';
import { database } from './instance';

const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });

const STATUS: Partial<Record<ErrorCode, number>> = {
  PROJECT_UNKNOWN: 404,
  RECORD_UNKNOWN: 404,
  WALK_UNKNOWN: 404,
  PROJECT_DELETED: 410,
  STEP_CONFLICT: 409,
  REVISION_AHEAD: 409,
  ORIGIN_FOREIGN: 403,
  BODY_TOO_LARGE: 413,
  BODY_NOT_JSON: 400,
  BODY_INVALID: 422,
  REFERENCE_BROKEN: 422,
  RECORD_INVALID: 422,
  DATA_FOLDER_IN_USE: 503,
  SERVER_FAULT: 500,
};

/** An error as RFC 9457 problem details. Faults that are not ours to name stay in the log. */
function problem(error: UpperRoomError, requestId: string): Response {
  const status = STATUS[error.code] ?? 400;
  const { errors, conflicts, ...rest } = error.details as { errors?: Problem['errors']; conflicts?: Conflict[] };
  const body: Problem = {
    type: `urn:upper-room:problem:${error.code.toLowerCase().replaceAll('_', '-')}`,
    title: ERROR_MESSAGES[error.code],
    status,
    detail: Object.keys(rest).length > 0 ? JSON.stringify(rest) : ERROR_MESSAGES[error.code],
    code: error.code,
    requestId,
    ...(errors ? { errors } : {}),
    ...(conflicts ? { conflicts } : {}),
  };
  return Response.json(body, { status, headers: { 'content-type': 'application/problem+json' } });
}

/** There is no sign-in: a page of another site must not reach the server through the engineer's browser. @throws UpperRoomError ORIGIN_FOREIGN */
function requireOwnOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  if (origin === null) return;
  const host = URL.canParse(origin) ? new URL(origin).host : null;
  if (host === null || host !== request.headers.get('host')) throw new UpperRoomError('ORIGIN_FOREIGN', { origin: origin.slice(0, 200) });
}

/** Reads a body up to MAX_BODY_BYTES and parses it. What is larger is refused without being read to its end. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > MAX_BODY_BYTES) throw new UpperRoomError('BODY_TOO_LARGE', { bytes: announced, maxBytes: MAX_BODY_BYTES });
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  const reader = request.body?.getReader();
  for (let next = await reader?.read(); next && !next.done; next = await reader!.read()) {
    bytes += next.value.byteLength;
    if (bytes > MAX_BODY_BYTES) {
      await reader!.cancel();
      throw new UpperRoomError('BODY_TOO_LARGE', { maxBytes: MAX_BODY_BYTES });
    }
    chunks.push(next.value);
  }
  let json: unknown;
  try {
    json = JSON.parse(Buffer.concat(chunks).toString('utf8'));
  } catch (error) {
    throw new UpperRoomError('BODY_NOT_JSON', { parser: (error as Error).message.slice(0, 200) });
  }
  // PostgreSQL has no NUL in text and no half of a surrogate pair; both are legal in JSON.
  if (UNSTORABLE.test(JSON.stringify(json)))
    throw new UpperRoomError('BODY_INVALID', {
      errors: [{ path: '', message: 'a text holds characters that cannot be stored (NUL or half a surrogate pair)' }],
    });
  const parsed = schema.safeParse(json);
  if (!parsed.success)
    throw new UpperRoomError('BODY_INVALID', {
      errors: parsed.error.issues.slice(0, 50).map((issue) => ({ path: issue.path.join('.'), message: issue.message })),
    });
  return parsed.data;
}

/** JSON escapes of NUL and of lone surrogates, not preceded by an escaped backslash. */
const UNSTORABLE = /(?<!\\)(?:\\\\)*\\u(?:0000|d[89a-f][0-9a-f]{2})/i;

/** What is missing when a part of the path is no id at all. */
const UNKNOWN: Readonly<Record<string, ErrorCode>> = { id: 'PROJECT_UNKNOWN', walkId: 'WALK_UNKNOWN', stepId: 'RECORD_UNKNOWN' };

type Parameters_ = Record<string, string>;

/** Wraps a route: opens the database, answers JSON, turns every error into problem details, logs with a request id. */
export function route(work: (db: Database, parameters: Parameters_, request: Request) => Promise<unknown>) {
  return async (request: Request, context: { params: Promise<Parameters_ | undefined> }): Promise<Response> => {
    const requestId = randomUUID();
    const started = performance.now();
    try {
      // Routes without a variable part have no parameters at all.
      const parameters = (await context.params) ?? {};
      requireOwnOrigin(request);
      for (const [name, value] of Object.entries(parameters))
        if (!idSchema.safeParse(value).success) throw new UpperRoomError(UNKNOWN[name] ?? 'RECORD_UNKNOWN', { [name]: value.slice(0, 80) });
      const result = await work(await database(), parameters, request);
      log.info({ requestId, method: request.method, url: request.url, ms: Math.round(performance.now() - started) }, 'answered');
      return result instanceof Response ? result : result === undefined ? new Response(null, { status: 204 }) : Response.json(result);
    } catch (error) {
      if (error instanceof UpperRoomError) {
        log.info({ requestId, method: request.method, url: request.url, code: error.code }, 'refused');
        return problem(error, requestId);
      }
      log.error(
        {
          requestId,
          method: request.method,
          url: request.url,
          error: error instanceof Error ? { message: error.message, stack: error.stack } : error,
        },
        'fault',
      );
      return problem(new UpperRoomError('SERVER_FAULT'), requestId);
    }
  };
}
