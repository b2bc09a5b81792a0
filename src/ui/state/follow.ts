import type { ProjectEvent, StreamEvent } from '@/contract/http';
import { ALIVE_MS, StreamHub, type StreamLike, type ToHub } from './streamHub';

type Line = { post: (message: ToHub) => void; listen: (onEvent: (event: StreamEvent) => void) => void; hangUp: () => void };

/** A line to the shared worker; null where the browser has none. `onLost` is called when it cannot be loaded. */
function sharedLine(onLost: () => void): Line | null {
  if (typeof SharedWorker === 'undefined') return null;
  const worker = new SharedWorker(new URL('./stream.worker.ts', import.meta.url), { type: 'module', name: 'upper-room-stream' });
  worker.onerror = onLost;
  const { port } = worker;
  return {
    post: (message) => port.postMessage(message),
    listen: (onEvent) => (port.onmessage = ({ data }: MessageEvent<StreamEvent>) => onEvent(data)),
    hangUp: () => port.close(),
  };
}

/** A hub of this tab's own: fine for a few tabs. */
function ownLine(): Line {
  const hub = new StreamHub((url) => new EventSource(url) as unknown as StreamLike);
  let say: (event: StreamEvent) => void = () => {};
  return { post: (message) => hub.receive(hub, message, (event) => say(event)), listen: (onEvent) => (say = onEvent), hangUp: () => {} };
}

/** Listens to a project's events over the browser's shared stream. Returns the way to stop. */
export function followProject(projectId: string, onEvent: (event: ProjectEvent) => void): () => void {
  const hear = ({ projectId: of, event }: StreamEvent) => of === projectId && onEvent(event);
  // Without the shared worker the tab holds a stream of its own.
  const onLost = () => {
    line.hangUp();
    line = ownLine();
    line.listen(hear);
    follow();
  };
  let line = sharedLine(onLost) ?? ownLine();
  line.listen(hear);
  const follow = () => line.post({ type: 'follow', projectId });
  const leave = () => line.post({ type: 'leave', projectId });
  follow();
  const beat = setInterval(() => line.post({ type: 'alive', projectId }), ALIVE_MS);
  // A page that is put aside and comes back follows again, and is told where the project stands.
  window.addEventListener('pagehide', leave);
  window.addEventListener('pageshow', follow);
  return () => {
    clearInterval(beat);
    window.removeEventListener('pagehide', leave);
    window.removeEventListener('pageshow', follow);
    leave();
    line.hangUp();
  };
}
