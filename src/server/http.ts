import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { ERROR_MESSAGES, UpperRoomError, type ErrorCode } from '@/core/errors';
import { MAX_BODY_BYTES, MAX_BODY_DEPTH, type Problem } from '@/contract/http';
import { idSchema } from '@/core/design/kinds/kind';
import type { Conflict } from '@/core/design/merge';
import type { Database } from './database';
import { faultOf } from './faults';
import { database } from './instance';
import { log } from './log';
import { UNSTORABLE } from './unstorable';

const STATUS: Partial<Record<ErrorCode, number>> = {
  PROJECT_UNKNOWN: 404,
  RECORD_UNKNOWN: 404,
  WALK_UNKNOWN: 404,
  ASSET_UNKNOWN: 404,
  DRAWING_TOO_LARGE: 413,
  PROJECT_FILE_TOO_LARGE: 413,
  PROJECT_FILE_UNREADABLE: 422,
  DRAWING_UNKNOWN: 415,
  DRAWING_BROKEN: 422,
  PROJECT_DELETED: 410,
  STEP_CONFLICT: 409,
  REVISION_AHEAD: 409,
  BODY_TOO_LARGE: 413,
  BODY_NOT_JSON: 400,
  BODY_INVALID: 422,
  REFERENCE_BROKEN: 422,
  NOT_LAWFUL: 422,
  RECORD_INVALID: 422,
  BODY_TOO_DEEP: 422,
  PROJECT_NEWER: 409,
  TOO_MANY_STREAMS: 503,
  DATA_FOLDER_IN_USE: 503,
  SCHEMA_NEWER: 503,
  DATABASE_LOST: 503,
  DISK_FULL: 507,
  DISK_READ_ONLY: 507,
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

/** How deep brackets stand inside each other in a JSON text; its strings do not count. */
function depthOf(text: string): number {
  let depth = 0;
  let deepest = 0;
  for (let i = 0; i < text.length; i++) {
    const char = text.charCodeAt(i);
    if (char === QUOTE) for (i++; i < text.length && text.charCodeAt(i) !== QUOTE; i++) if (text.charCodeAt(i) === BACKSLASH) i++;
    if (char === 0x5b || char === 0x7b) deepest = Math.max(deepest, ++depth);
    else if (char === 0x5d || char === 0x7d) depth--;
  }
  return deepest;
}
const QUOTE = 0x22;
const BACKSLASH = 0x5c;

/** Reads a body. What is larger is refused without being read to its end. @throws UpperRoomError `tooLarge` */
export async function readBytes(request: Request, maxBytes: number, tooLarge: ErrorCode): Promise<Uint8Array> {
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > maxBytes) throw new UpperRoomError(tooLarge, { bytes: announced, maxBytes });
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  const reader = request.body?.getReader();
  for (let next = await reader?.read(); next && !next.done; next = await reader!.read()) {
    bytes += next.value.byteLength;
    if (bytes > maxBytes) {
      await reader!.cancel();
      throw new UpperRoomError(tooLarge, { maxBytes });
    }
    chunks.push(next.value);
  }
  return Buffer.concat(chunks);
}

/** Reads a JSON body up to MAX_BODY_BYTES and parses it. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  const text = Buffer.from(await readBytes(request, MAX_BODY_BYTES, 'BODY_TOO_LARGE')).toString('utf8');
  const depth = depthOf(text);
  if (depth > MAX_BODY_DEPTH) throw new UpperRoomError('BODY_TOO_DEEP', { depth, maxDepth: MAX_BODY_DEPTH });
  let json: unknown;
  try {
    json = JSON.parse(text);
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

/** What is missing when a part of the path is no id at all. */
const UNKNOWN: Readonly<Record<string, ErrorCode>> = {
  id: 'PROJECT_UNKNOWN',
  walkId: 'WALK_UNKNOWN',
  stepId: 'RECORD_UNKNOWN',
  assetId: 'ASSET_UNKNOWN',
};

type Parameters_ = Record<string, string>;

/** Wraps a route: opens the database, answers JSON, turns every error into problem details, logs with a request id. */
export function route(work: (db: Database, parameters: Parameters_, request: Request) => Promise<unknown>) {
  return async (request: Request, context: { params: Promise<Parameters_ | undefined> }): Promise<Response> => {
    const requestId = randomUUID();
    const started = performance.now();
    try {
      // Routes without a variable part have no parameters at all.
      const parameters = (await context.params) ?? {};
      for (const [name, value] of Object.entries(parameters))
        if (!idSchema.safeParse(value).success) throw new UpperRoomError(UNKNOWN[name] ?? 'RECORD_UNKNOWN', { [name]: value.slice(0, 80) });
      const result = await work(await database(), parameters, request);
      log.info({ requestId, method: request.method, url: request.url, ms: Math.round(performance.now() - started) }, 'answered');
      return result instanceof Response ? result : result === undefined ? new Response(null, { status: 204 }) : Response.json(result);
    } catch (thrown) {
      const error = faultOf(thrown) ?? thrown;
      if (error instanceof UpperRoomError) {
        log[(STATUS[error.code] ?? 400) >= 500 ? 'error' : 'info'](
          { requestId, method: request.method, url: request.url, code: error.code, details: error.details },
          'refused',
        );
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

/** A revision in the address; `otherwise` where there is none that could be one. */
export function revisionIn(request: Request, name: string, otherwise: number): number {
  const text = new URL(request.url).searchParams.get(name);
  const revision = Number(text ?? NaN);
  return text !== '' && Number.isSafeInteger(revision) && revision >= 0 && revision < 2 ** 31 ? revision : otherwise;
}
