import { revisionIn, route } from '@/server/http';
import { listLog } from '@/server/services/steps';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Who did what when: a page of the log up to a revision, oldest first. */
export const GET = route((db, { id }, request) => listLog(db, id!, revisionIn(request, 'upTo', 2 ** 31 - 1)));
