import { streamEventSchema, type StreamEvent } from '@/contract/http';

/** What a tab tells the hub. */
export type ToHub = Readonly<{ type: 'follow' | 'alive' | 'leave'; projectId: string }>;

/** What the hub needs of an event stream: the browser's EventSource has it. */
export type StreamLike = { onmessage: ((event: { data: string }) => void) | null; onerror: (() => void) | null; readyState: number; close(): void };

const CLOSED = 2;
const REOPEN_MS = 2000;
/** A tab that has not been heard of for this long is gone: it crashed, or its machine slept. */
const SILENT_MS = 90_000;
export const ALIVE_MS = 25_000;

type Tab = { say: (event: StreamEvent) => void; projectId: string; heardAt: number };

/**
 * One event stream for all tabs of a browser, whatever projects they have open: a browser opens only six connections to a server, and a
 * stream a tab would leave none to save with.
 */
export class StreamHub {
  private readonly tabs = new Map<object, Tab>();
  private source: StreamLike | null = null;
  private following = '';
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly open: (url: string) => StreamLike,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** A message of a tab; `say` is the way back to it. */
  receive(tab: object, message: ToHub, say: (event: StreamEvent) => void): void {
    if (message.type === 'leave') this.tabs.delete(tab);
    else {
      const known = this.tabs.get(tab)?.projectId === message.projectId;
      this.tabs.set(tab, { say, projectId: message.projectId, heardAt: this.now() });
      // A new tab needs a hello of its own: the stream begins again for all, which costs each one look at the revision.
      if (!known) this.following = '';
    }
    for (const [other, { heardAt }] of this.tabs) if (this.now() - heardAt > SILENT_MS) this.tabs.delete(other);
    this.refresh();
  }

  private refresh(): void {
    const projects = [...new Set([...this.tabs.values()].map(({ projectId }) => projectId))].sort();
    const wanted = projects.join(' ');
    if (wanted === this.following && this.source !== null) return;
    clearTimeout(this.timer);
    this.source?.close();
    this.source = null;
    this.following = wanted;
    if (projects.length === 0) return;
    const source = this.open(`/api/events?${projects.map((id) => `project=${encodeURIComponent(id)}`).join('&')}`);
    this.source = source;
    source.onmessage = ({ data }) => {
      const event = readEvent(data);
      if (event !== null) for (const tab of this.tabs.values()) if (tab.projectId === event.projectId) tab.say(event);
    };
    source.onerror = () => {
      // The browser connects again by itself, unless the server refused: then the hub does.
      if (source.readyState !== CLOSED || this.source !== source) return;
      this.source = null;
      this.timer = setTimeout(() => this.refresh(), REOPEN_MS);
    };
  }
}

/** An event as it came; null for one that this page cannot read: the next hello makes up for it. */
function readEvent(data: string): StreamEvent | null {
  try {
    return streamEventSchema.safeParse(JSON.parse(data)).data ?? null;
  } catch {
    return null;
  }
}
