import { scoreRequestSchema } from '@/contract/site';
import { readBody, route } from '@/server/http';
import { scoreOf } from '@/server/services/sites';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** How a survey compares with the simulated site's truth. */
export const POST = route(async (db, { id }, request) => scoreOf(db, id!, await readBody(request, scoreRequestSchema)));
