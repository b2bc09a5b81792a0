import { transferRequestSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { transferAt } from '@/server/services/walks';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** A throughput test at a spot of the simulated site. */
export const POST = route(async (db, { id }, request) => transferAt(db, id!, await readBody(request, transferRequestSchema)));
