import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import { helloSchema, projectEventSchema, type Outgoing } from '@/contract/http';
import { EMPTY_DESIGN, type Design } from '@/core/design/design';
import { EMPTY_HISTORY, recordStep, type History } from '@/core/design/history';
import type { Conflict } from '@/core/design/merge';
import { applyChanges, invert, type Change, type Step, type StepKind } from '@/core/design/step';
import { api as http } from './api';
import * as disk from './outbox';

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'deleted';

/** A message for the engineer: what happened and, for conflicts, both values. */
export type Notice = { text: string; conflicts?: readonly Conflict[] } | null;

type DocumentState = {
  projectId: string | null;
  loadError: UpperRoomError | null;
  revision: number;
  /** The design as the server has it, and with what is not acknowledged yet on top. */
  confirmed: Design;
  design: Design;
  pending: readonly Step[];
  history: History;
  titles: Readonly<Record<string, string>>;
  saveState: SaveState;
  notice: Notice;
  /** Raised when another window, or this one, stored samples of a walk. */
  samplesVersion: Readonly<Record<string, number>>;
};

type DocumentActions = {
  open(projectId: string): Promise<void>;
  close(): void;
  /** Applies changes at once and sends them. Nothing happens when there are none. */
  run(title: string, changes: readonly Change[]): void;
  undo(): Promise<void>;
  redo(): Promise<void>;
  /** Sends bulk measurements through the same outbox as steps, so that order is kept. */
  dispatch(item: Outgoing): Promise<void>;
  setNotice(notice: Notice): void;
};

const EMPTY: DocumentState = {
  projectId: null,
  loadError: null,
  revision: 0,
  confirmed: EMPTY_DESIGN,
  design: EMPTY_DESIGN,
  pending: [],
  history: EMPTY_HISTORY,
  titles: {},
  saveState: 'saved',
  notice: null,
  samplesVersion: {},
};

/** An item on its way, with its place on disk: sending may be done before the disk is. */
type Queued = Outgoing & { stored: Promise<number> };

const RETRY_MS = [500, 1000, 2000, 5000];

/** What the store needs of the world: the server's calls, and a disk that outlives the page. */
export type Surroundings = {
  api: Pick<typeof http, 'openProject' | 'postStep' | 'stepsAfter' | 'getStep' | 'postSamples' | 'withdrawSamples' | 'eventsUrl'>;
  outbox: Pick<typeof disk, 'keep' | 'release' | 'waiting'>;
};

/** One window's document. The page has one; tests open several, with a wire that can be cut. */
export function createDocumentStore({ api, outbox: { keep, release, waiting } }: Surroundings = { api: http, outbox: disk }) {
  // The life of one open project: its event stream, what waits to be sent, and the steps whose changes are known.
  let source: EventSource | null = null;
  let queue: Queued[] = [];
  let sending = false;
  let failures = 0;
  let retryTimer: ReturnType<typeof setTimeout> | undefined;
  const known = new Map<string, Step>();

  return create<DocumentState & DocumentActions>()((set, get) => {
    const rebuilt = (confirmed: Design, pending: readonly Step[]) => ({
      confirmed,
      pending,
      design: pending.reduce((design, step) => applyChanges(design, step.changes), confirmed),
    });

    /** Takes in a step the server has applied; steps come in order, a gap is filled from the log. */
    function receive(revision: number, step: Step): void {
      const state = get();
      if (revision <= state.revision) return;
      if (revision > state.revision + 1) return void catchUp();
      known.set(step.id, step);
      const mine = state.pending.some((pending) => pending.id === step.id);
      set({
        revision,
        ...rebuilt(
          applyChanges(state.confirmed, step.changes),
          state.pending.filter((pending) => pending.id !== step.id),
        ),
        ...(mine ? {} : { history: recordStep(state.history, step), titles: { ...state.titles, [step.id]: step.title } }),
      });
    }

    let catching = false;
    async function catchUp(): Promise<void> {
      const { projectId } = get();
      if (projectId === null || catching) return;
      catching = true;
      try {
        for (
          let missed = await api.stepsAfter(projectId, get().revision);
          missed.length > 0;
          missed = await api.stepsAfter(projectId, get().revision)
        ) {
          for (const { revision, step } of missed) receive(revision, step);
        }
      } catch (error) {
        report(error);
      } finally {
        catching = false;
      }
    }

    function report(error: unknown): void {
      if (!(error instanceof UpperRoomError)) throw error;
      if (error.code === 'PROJECT_DELETED' || error.code === 'PROJECT_UNKNOWN') set({ saveState: 'deleted', notice: { text: error.message } });
      else if (error.code !== 'NETWORK_FAILED') {
        const details = error.details as { conflicts?: Conflict[]; errors?: Array<{ path: string; message: string }> };
        const lines = details.errors?.slice(0, 3).map((e) => `${e.path}: ${e.message}`) ?? [];
        set({
          notice: { text: [error.message.replace(/ \{.*$/, ''), ...lines].join(' '), ...(details.conflicts ? { conflicts: details.conflicts } : {}) },
        });
      }
    }

    /** Loads the project afresh, keeping what waits: after a refused step the page must show what the server has. */
    async function reload(projectId: string): Promise<void> {
      const opened = await api.openProject(projectId);
      const pending = queue.flatMap((item) => (item.kind === 'step' ? [item.step] : []));
      let history = EMPTY_HISTORY;
      for (const entry of opened.log) history = recordStep(history, entry);
      for (const step of pending) history = recordStep(history, step);
      const titles = Object.fromEntries([...opened.log, ...pending].map(({ id, title }) => [id, title]));
      set({ projectId, revision: opened.revision, ...rebuilt(opened.design, pending), history, titles, loadError: null });
    }

    /** Takes a sent item off the queue; the project may have been closed meanwhile, and the queue be another's. */
    function done(item: Queued): void {
      if (queue[0] === item) queue.shift();
    }

    async function sendOne(item: Queued): Promise<void> {
      if (item.kind === 'samples') await api.postSamples(item.projectId, item.walkId, item.batch);
      else if (item.kind === 'withdraw') await api.withdrawSamples(item.projectId, item.walkId, item.afterMs);
      else {
        const answer = await api.postStep(item.projectId, { baseRevision: get().revision, step: item.step });
        receive(answer.revision, answer.step);
        if (answer.conflicts.length > 0)
          set({ notice: { text: 'Part of the change was made elsewhere meanwhile; both values are listed.', conflicts: answer.conflicts } });
      }
    }

    /** Sends what waits, one after the other. Without network it tries again by itself; what the server refuses is said and dropped. */
    async function flush(): Promise<void> {
      if (sending) return;
      sending = true;
      clearTimeout(retryTimer);
      try {
        await sendAll();
      } finally {
        sending = false;
      }
      if (queue.length === 0 && get().saveState !== 'deleted') set({ saveState: 'saved' });
    }

    async function sendAll(): Promise<void> {
      while (queue.length > 0 && get().projectId === queue[0]!.projectId) {
        const item = queue[0]!;
        set({ saveState: failures > 0 ? 'unsaved' : 'saving' });
        try {
          await sendOne(item);
          failures = 0;
        } catch (error) {
          if (!(error instanceof UpperRoomError)) throw error;
          if (error.code === 'NETWORK_FAILED' || error.code === 'SERVER_FAULT') {
            retryTimer = setTimeout(() => void flush(), RETRY_MS[Math.min(failures, RETRY_MS.length - 1)]);
            failures++;
            set({ saveState: 'unsaved' });
            break;
          }
          report(error);
          // The project is gone: what was not sent is kept, should it be restored.
          if (get().saveState === 'deleted') break;
          done(item);
          await release(await item.stored);
          if (item.kind === 'step') await reload(item.projectId).catch(report);
          continue;
        }
        done(item);
        await release(await item.stored);
      }
    }

    async function dispatch(item: Outgoing): Promise<void> {
      set({ saveState: failures > 0 ? 'unsaved' : 'saving' });
      // The place in the queue is taken before anything waits, so that order is the order of the edits.
      const queued: Queued = { ...item, stored: keep(item) };
      queue.push(queued);
      await queued.stored;
      await flush();
    }

    function commit(title: string, kind: StepKind, ofStepId: string | null, changes: readonly Change[]): void {
      const { projectId, confirmed, pending, history, titles, saveState } = get();
      if (projectId === null || changes.length === 0) return;
      if (saveState === 'deleted') return set({ notice: { text: 'This project was deleted. Nothing can be changed until it is restored.' } });
      const step: Step = { id: uuid(), title, kind, ofStepId, changes };
      known.set(step.id, step);
      set({ ...rebuilt(confirmed, [...pending, step]), history: recordStep(history, step), titles: { ...titles, [step.id]: title } });
      void dispatch({ kind: 'step', projectId, step });
    }

    async function changesOf(stepId: string): Promise<readonly Change[]> {
      const local = known.get(stepId);
      if (local !== undefined) return local.changes;
      const { step } = await api.getStep(get().projectId!, stepId);
      known.set(stepId, step);
      return step.changes;
    }

    async function travel(kind: 'undo' | 'redo'): Promise<void> {
      const { history, titles } = get();
      const stepId = history[kind].at(-1);
      if (stepId === undefined) return;
      try {
        const changes = await changesOf(stepId);
        const title = `${kind === 'undo' ? 'Undo' : 'Redo'}: ${titles[stepId] ?? 'step'}`;
        commit(title, kind, stepId, kind === 'undo' ? invert(changes) : changes);
      } catch (error) {
        // An older step's changes are fetched: without server the wish cannot be kept, so it is said.
        if (error instanceof UpperRoomError && error.code === 'NETWORK_FAILED') set({ notice: { text: error.message.replace(/ \{.*$/, '') } });
        else report(error);
      }
    }

    function listen(projectId: string): void {
      source = new EventSource(api.eventsUrl(projectId));
      source.addEventListener('hello', (message) => {
        const { revision } = helloSchema.parse(JSON.parse((message as MessageEvent<string>).data));
        if (revision > get().revision) void catchUp();
        void flush();
      });
      source.onmessage = ({ data }: MessageEvent<string>) => {
        const event = projectEventSchema.parse(JSON.parse(data));
        if (event.type === 'step') receive(event.revision, event.step);
        else if (event.type === 'samples')
          set({ samplesVersion: { ...get().samplesVersion, [event.walkId]: (get().samplesVersion[event.walkId] ?? 0) + 1 } });
        else if (event.type === 'deleted')
          set({
            saveState: 'deleted',
            notice: {
              text: 'This project was deleted in another window. Your view stays as it is; go to the home page to restore it within 10 seconds.',
            },
          });
        else if (event.type === 'restored') {
          set({ saveState: 'saved', notice: { text: 'The project was restored.' } });
          void catchUp();
          void flush();
        }
      };
    }

    return {
      ...EMPTY,
      async open(projectId) {
        get().close();
        try {
          const { items, unreadable } = await waiting(projectId);
          queue = items.map(({ key, ...item }) => ({ ...item, stored: Promise.resolve(key) }));
          if (unreadable > 0)
            set({ notice: { text: `${unreadable} unsent changes were kept by an older version and cannot be read; they stay in this browser.` } });
          await reload(projectId);
          listen(projectId);
          await flush();
        } catch (error) {
          if (!(error instanceof UpperRoomError)) throw error;
          set({ ...EMPTY, loadError: error });
        }
      },
      close() {
        source?.close();
        source = null;
        queue = [];
        known.clear();
        failures = 0;
        clearTimeout(retryTimer);
        set(EMPTY);
      },
      run: (title, changes) => commit(title, 'do', null, changes),
      undo: () => travel('undo'),
      redo: () => travel('redo'),
      dispatch,
      setNotice: (notice) => set({ notice }),
    };
  });
}

export const useDocument = createDocumentStore();
