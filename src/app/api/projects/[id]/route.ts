import { route } from '@/server/http';
import { deleteProject, openProject } from '@/server/services/projects';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id }) => openProject(db, id!));
export const DELETE = route((db, { id }) => deleteProject(db, id!));
