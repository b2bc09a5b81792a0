import { MAX_PROJECT_FILE_BYTES } from '@/contract/projectFile';
import { readBytes, route } from '@/server/http';
import { createFromFile } from '@/server/services/projectFile';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Makes a project of a file. */
export const POST = route(async (db, _parameters, request) =>
  Response.json({ id: await createFromFile(db, await readBytes(request, MAX_PROJECT_FILE_BYTES, 'PROJECT_FILE_TOO_LARGE')) }, { status: 201 }),
);
