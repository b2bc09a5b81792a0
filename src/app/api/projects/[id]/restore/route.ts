import { route } from '@/server/http';
import { restoreProject } from '@/server/services/projects';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const POST = route((db, { id }) => restoreProject(db, id!));
