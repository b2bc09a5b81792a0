import { eventStream } from '@/server/eventStream';
import { route } from '@/server/http';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Server-sent events (WHATWG HTML, 9.2) of the projects that a browser has open, in one stream. */
export const GET = route((db, _parameters, request) => eventStream(db, new URL(request.url).searchParams.getAll('project'), request.signal));
