import { putSiteSchema } from '@/contract/site';
import { readBody, route } from '@/server/http';
import { changeSite, getSite } from '@/server/services/sites';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** What a floor of the simulated site is really like: for the training ground alone. */
export const GET = route((db, { id, floorId }) => getSite(db, id!, floorId!));
export const POST = route(async (db, { id, floorId }, request) => changeSite(db, id!, floorId!, (await readBody(request, putSiteSchema)).site));
