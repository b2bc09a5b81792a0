import { postStepSchema } from '@/contract/http';
import { readBody, revisionIn, route } from '@/server/http';
import { listSteps, postStep } from '@/server/services/steps';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id }, request) => listSteps(db, id!, revisionIn(request, 'after', 0)));
export const POST = route(async (db, { id }, request) => postStep(db, id!, await readBody(request, postStepSchema)));
