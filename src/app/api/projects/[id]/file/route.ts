import { route } from '@/server/http';
import { projectFile } from '@/server/services/projectFile';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id }) => projectFile(db, id!));
