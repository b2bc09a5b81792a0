import { LIMITS } from '@/core/design/limits';
import { readBytes, route } from '@/server/http';
import { addAsset } from '@/server/services/assets';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Takes a picture as bytes. */
export const POST = route(async (db, { id }, request) => addAsset(db, id!, await readBytes(request, LIMITS.pictureBytes.max, 'DRAWING_TOO_LARGE')));
