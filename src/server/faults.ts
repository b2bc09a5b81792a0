import { UpperRoomError, type ErrorCode } from '@/core/errors';

/** What the system or PostgreSQL calls a fault (errno; SQLSTATE, appendix A), by our code. */
const KNOWN: Readonly<Record<string, ErrorCode>> = {
  ENOSPC: 'DISK_FULL',
  EDQUOT: 'DISK_FULL',
  '53100': 'DISK_FULL',
  EROFS: 'DISK_READ_ONLY',
  EACCES: 'DISK_READ_ONLY',
  EPERM: 'DISK_READ_ONLY',
  ENOTDIR: 'DISK_READ_ONLY',
  '25006': 'DISK_READ_ONLY',
  ECONNREFUSED: 'DATABASE_LOST',
  ECONNRESET: 'DATABASE_LOST',
  EPIPE: 'DATABASE_LOST',
  ENOTFOUND: 'DATABASE_LOST',
  ETIMEDOUT: 'DATABASE_LOST',
  '57P01': 'DATABASE_LOST',
  '57P02': 'DATABASE_LOST',
  '57P03': 'DATABASE_LOST',
};

/** The fault that a machine or database met, as an error of ours that says what to do; null for one that has no name. */
export function faultOf(error: unknown): UpperRoomError | null {
  if (error instanceof UpperRoomError) return error;
  if (!isErrorLike(error)) return null;
  const { code } = error;
  const details = { reason: error.message.slice(0, 200) };
  if (typeof code === 'string') {
    const known = KNOWN[code] ?? (code.startsWith('08') ? 'DATABASE_LOST' : undefined);
    if (known !== undefined) return new UpperRoomError(known, details);
  }
  if (/No space left on device|could not extend file|ENOSPC/i.test(error.message)) return new UpperRoomError('DISK_FULL', details);
  if (/Read-only file system|EROFS/i.test(error.message)) return new UpperRoomError('DISK_READ_ONLY', details);
  if (/Connection terminated|timeout exceeded when trying to connect|PGlite is closed/i.test(error.message) || error.name === 'RuntimeError')
    return new UpperRoomError('DATABASE_LOST', details);
  return null;
}

/** By its looks: an error of another realm, as workers and test runners have them, is no instance of this one's Error. */
const isErrorLike = (error: unknown): error is { name: string; message: string; code?: unknown } =>
  typeof error === 'object' && error !== null && typeof (error as { message?: unknown }).message === 'string';
