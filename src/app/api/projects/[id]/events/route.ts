import { route } from '@/server/http';
import { requireProject } from '@/server/services/projects';
import { subscribe } from '@/server/services/events';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** Server-sent events of one project (WHATWG HTML, 9.2). A comment every 20 s keeps the connection. */
export const GET = route(async (db, { id }, request) => {
  const { revision } = await requireProject(db, id!);
  const text = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (line: string) => controller.enqueue(text.encode(line));
      send(`event: hello\ndata: ${JSON.stringify({ revision })}\n\n`);
      const unsubscribe = subscribe(id!, (event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const beat = setInterval(() => send(': still here\n\n'), 20_000);
      stop = () => {
        clearInterval(beat);
        unsubscribe();
        stop = () => {};
      };
      request.signal.addEventListener('abort', () => stop());
    },
    cancel: () => stop(),
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
});
