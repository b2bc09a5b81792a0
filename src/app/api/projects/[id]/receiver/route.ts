import { listenSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { listenAt } from '@/server/services/walks';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** What the simulated receiver hears on a stretch of a walk. */
export const POST = route(async (db, { id }, request) => listenAt(db, id!, await readBody(request, listenSchema)));
