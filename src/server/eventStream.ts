import { MAX_STREAMED_PROJECTS, type ProjectEvent, type StreamEvent } from '@/contract/http';
import { idSchema } from '@/core/design/kinds/kind';
import { UpperRoomError } from '@/core/errors';
import type { Database } from './database';
import { subscribe } from './services/events';
import { findProject } from './stores/projects';

/** Streams that one process holds open at once. */
const MAX_STREAMS = 256;
/** A reader that is this many bytes behind is dropped; it comes back by itself and catches up from the log. */
const MAX_BEHIND_BYTES = 4 * 1024 * 1024;
const BEAT_MS = 20_000;

const COUNT = Symbol.for('upper-room.streams');
const holder = globalThis as unknown as Record<symbol, number | undefined>;

/**
 * The events of some projects as one stream, each project beginning with a hello that says where it stands. The stream listens before it
 * reads the revision, so that nothing falls between; what comes meanwhile follows the hello.
 * @throws UpperRoomError PROJECT_UNKNOWN for a list that names none, TOO_MANY_STREAMS
 */
export async function eventStream(db: Database, asked: readonly string[], signal: AbortSignal): Promise<Response> {
  const projectIds = [...new Set(asked)].filter((id) => idSchema.safeParse(id).success).slice(0, MAX_STREAMED_PROJECTS);
  if (projectIds.length === 0) throw new UpperRoomError('PROJECT_UNKNOWN', { asked: asked.length });
  if ((holder[COUNT] ?? 0) >= MAX_STREAMS) throw new UpperRoomError('TOO_MANY_STREAMS', { maxStreams: MAX_STREAMS });
  holder[COUNT] = (holder[COUNT] ?? 0) + 1;
  const text = new TextEncoder();
  const stops: Array<() => void> = [];
  let beat: NodeJS.Timeout | undefined;
  let ended = false;
  const end = () => {
    if (ended) return;
    ended = true;
    holder[COUNT] = (holder[COUNT] ?? 1) - 1;
    clearInterval(beat);
    for (const stop of stops) stop();
  };
  const stream = new ReadableStream<Uint8Array>(
    {
      async start(controller) {
        const send = (line: string) => {
          if (ended) return;
          controller.enqueue(text.encode(line));
          if ((controller.desiredSize ?? 0) > -MAX_BEHIND_BYTES) return;
          end();
          controller.error(new Error('the reader is too slow'));
        };
        const say = (projectId: string, event: ProjectEvent) => send(`data: ${JSON.stringify({ projectId, event } satisfies StreamEvent)}\n\n`);
        signal.addEventListener('abort', end);
        beat = setInterval(() => send(': still here\n\n'), BEAT_MS);
        send('retry: 1000\n\n');
        try {
          for (const projectId of projectIds) {
            // Held back until the hello is out.
            let early: ProjectEvent[] | null = [];
            stops.push(await subscribe(db, projectId, (event) => (early === null ? say(projectId, event) : early.push(event))));
            const row = await findProject(db, projectId);
            if (row !== null) say(projectId, row.deleted_at === null ? { type: 'hello', revision: row.revision } : { type: 'deleted' });
            const waited = early;
            early = null;
            for (const event of waited) say(projectId, event);
          }
          if (ended) for (const stop of stops) stop();
        } catch (error) {
          end();
          controller.error(error);
        }
      },
      cancel: end,
    },
    { highWaterMark: 64 * 1024, size: (chunk) => chunk.byteLength },
  );
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
