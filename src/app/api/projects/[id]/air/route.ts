import { airRequestSchema } from '@/contract/air';
import { readBody, route } from '@/server/http';
import { airAnswer } from '@/server/services/air';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** What the instruments measure at a spot of the simulated site. */
export const POST = route(async (db, { id }, request) => airAnswer(db, id!, await readBody(request, airRequestSchema)));
