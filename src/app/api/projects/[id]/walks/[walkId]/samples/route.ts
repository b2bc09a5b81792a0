import { samplesSchema, withdrawSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { addSamples, getHeard, withdraw } from '@/server/services/walks';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id, walkId }) => getHeard(db, id!, walkId!));
export const POST = route(async (db, { id, walkId }, request) => addSamples(db, id!, walkId!, await readBody(request, samplesSchema)));
export const DELETE = route(async (db, { id, walkId }, request) => withdraw(db, id!, walkId!, await readBody(request, withdrawSchema)));
