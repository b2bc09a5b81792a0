import { newProjectSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { createProject, listSummaries } from '@/server/services/projects';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db) => listSummaries(db));
export const POST = route(async (db, _parameters, request) =>
  Response.json({ id: await createProject(db, await readBody(request, newProjectSchema)) }, { status: 201 }),
);
