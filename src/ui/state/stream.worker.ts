import type { StreamEvent } from '@/contract/http';
import { StreamHub, type StreamLike, type ToHub } from './streamHub';

/** The shared worker that holds the browser's one event stream. */
const hub = new StreamHub((url) => new EventSource(url) as unknown as StreamLike);
const scope = self as unknown as { onconnect: ((event: { ports: readonly MessagePort[] }) => void) | null };

scope.onconnect = ({ ports: [port] }) => {
  if (port === undefined) return;
  port.onmessage = ({ data }: MessageEvent<ToHub>) => hub.receive(port, data, (event: StreamEvent) => port.postMessage(event));
};
