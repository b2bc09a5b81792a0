import { ERROR_MESSAGES, type ErrorCode, UpperRoomError } from '@/core/errors';

/** Something to tell the engineer: an error by its code, or words of ours. */
export type Notice = Readonly<{ code: ErrorCode; details?: Readonly<Record<string, unknown>> } | { words: string }>;

/** Faults that pass: what failed with them is tried again by itself and nothing is lost. */
const PASSING: ReadonlySet<ErrorCode> = new Set<ErrorCode>([
  'NETWORK_FAILED',
  'SERVER_FAULT',
  'DATABASE_LOST',
  'DISK_FULL',
  'DISK_READ_ONLY',
  'DATA_FOLDER_IN_USE',
  'SIGN_IN_NEEDED',
]);
export const isPassing = (code: ErrorCode): boolean => PASSING.has(code);

/** Details that say more than the text, as a person reads them. Whatever has no words here is for the log. */
const DETAILS: Readonly<Record<string, (value: unknown) => string | null>> = {
  what: (value) => `It is about: ${String(value)}.`,
  minM: (value) => `It must be at least ${String(value)} m.`,
  count: (value) => `Number of changes: ${String(value)}.`,
  problem: (value) => `(${String(value)})`,
  name: (value) => `It is about: ${String(value)}.`,
  errors: (value) =>
    (value as Array<{ path: string; message: string }>)
      .slice(0, 3)
      // A path of the request names a field by its end; anything else is a name for people.
      .map(({ path, message }) => `${path.includes(' ') ? path : path.split('.').at(-1)}: ${message}`)
      .join('; '),
};

/** The one place where errors become words. */
export function wordsOf(error: UpperRoomError | Notice | { code: ErrorCode; details?: Readonly<Record<string, unknown>> }): string {
  if ('words' in error) return error.words;
  const more = Object.entries(error.details ?? {}).flatMap(([key, value]) => (Object.hasOwn(DETAILS, key) ? (DETAILS[key]!(value) ?? []) : []));
  return [ERROR_MESSAGES[error.code], ...more].join(' ');
}
