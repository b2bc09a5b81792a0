import { newProjectSchema } from '@/contract/http';
import { readBody, route } from '@/server/http';
import { createProject, listSummaries } from '@/server/services/projects';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** A cursor as a page of the list gives it: a time and an id. */
const CURSOR = /^\d{4}-[\d :.+-]{10,40}~[A-Za-z0-9_-]{1,64}$/;

export const GET = route((db, _parameters, request) => {
  const asked = new URL(request.url).searchParams;
  const after = asked.get('after');
  return listSummaries(db, {
    after: after !== null && CURSOR.test(after) ? after : null,
    find: (asked.get('find') ?? '').slice(0, 120).replaceAll('\0', ''),
  });
});
export const POST = route(async (db, _parameters, request) =>
  Response.json({ id: await createProject(db, await readBody(request, newProjectSchema)) }, { status: 201 }),
);
