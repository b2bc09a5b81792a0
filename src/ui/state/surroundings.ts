import { v7 as uuid } from 'uuid';
import { idSchema } from '@/core/design/kinds/kind';
import type { ProjectEvent } from '@/contract/http';
import { api } from './api';
import { followProject } from './follow';
import { diskOutbox, type Outbox } from './outbox';

/** What a project's session needs of the world. Tests play it, with a wire that can be cut and a disk that refuses. */
export type Surroundings = {
  api: Pick<typeof api, 'openProject' | 'postStep' | 'stepsAfter' | 'getStep' | 'postSamples' | 'withdrawSamples'>;
  outbox: Outbox;
  /** Listens to a project's events; returns the way to stop. */
  follow(projectId: string, onEvent: (event: ProjectEvent) => void): () => void;
  /** Does the work while no other tab of this browser does work of the same name. */
  exclusively(name: string, work: () => Promise<void>): Promise<void>;
  /** Tells the other tabs that the outbox or the refused edits of a project changed; `hear` returns the way to stop. */
  tell(projectId: string): void;
  hear(projectId: string, onNews: () => void): () => void;
  /** How long is waited before what failed is tried again, in ms: the first time, and later ones. */
  retryMs: readonly number[];
  /** Whose steps these are: the browser, until there is a sign-in. */
  author: string;
};

const AUTHOR_KEY = 'upper-room.author';
let pageAuthor: string | null = null;

/** This browser's name for its steps, kept in its storage; where that is refused, this page's own. */
export function browserAuthor(): string {
  if (pageAuthor !== null) return pageAuthor;
  pageAuthor = `browser-${uuid()}`;
  try {
    const known = idSchema.safeParse(localStorage.getItem(AUTHOR_KEY));
    if (known.success) pageAuthor = known.data;
    else localStorage.setItem(AUTHOR_KEY, pageAuthor);
  } catch (error) {
    console.warn('The browser refuses its storage; steps of this page count as another author after a reload.', error);
  }
  return pageAuthor;
}

/** How an author is called in lists. */
export const authorName = (author: string | null, own: string): string =>
  author === null ? 'not kept' : author === own ? 'you' : author === 'upper-room' ? 'Upper Room' : `browser ${author.slice(-4)}`;

const CHANNEL = 'upper-room.outbox';

/** Tabs of browsers without locks take turns only with themselves; ids keep double sending harmless. */
async function exclusively(name: string, work: () => Promise<void>): Promise<void> {
  if (typeof navigator === 'undefined' || navigator.locks === undefined) return work();
  await navigator.locks.request(name, work);
}

export const browserSurroundings = (): Surroundings => {
  const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(CHANNEL);
  return {
    api,
    outbox: diskOutbox,
    follow: followProject,
    exclusively,
    retryMs: [500, 1000, 2000, 5000],
    tell: (projectId) => channel?.postMessage(projectId),
    hear(projectId, onNews) {
      const onMessage = ({ data }: MessageEvent<unknown>) => data === projectId && onNews();
      channel?.addEventListener('message', onMessage);
      return () => channel?.removeEventListener('message', onMessage);
    },
    get author() {
      return browserAuthor();
    },
  };
};
