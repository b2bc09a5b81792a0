import { postStepSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { listSteps, postStep } from '@/server/services/steps';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id }, request) => {
  const after = Number(new URL(request.url).searchParams.get('after') ?? 0);
  return listSteps(db, id!, Number.isSafeInteger(after) && after >= 0 && after < 2 ** 31 ? after : 0);
});
export const POST = route(async (db, { id }, request) => postStep(db, id!, await readBody(request, postStepSchema)));
