import { route } from '@/server/http';
import { getAsset } from '@/server/services/assets';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id, assetId }) => getAsset(db, id!, assetId!));
