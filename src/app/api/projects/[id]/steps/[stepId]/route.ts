import { route } from '@/server/http';
import { getStep } from '@/server/services/steps';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

export const GET = route((db, { id, stepId }) => getStep(db, id!, stepId!));
