import { route } from '@/server/http';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Answers when the database is open: the start script asks it before it says that the application is ready. */
export const GET = route(async () => ({ ready: true }));
