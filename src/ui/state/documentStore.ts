import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import type { LogLine, Outgoing } from '@/contract/http';
import { domainOf, modelsOf, projectOf } from '@/core/design/design';
import { breachesOf, notLawful } from '@/core/design/lawful';
import type { Design } from '@/core/design/registry';
import type { Change } from '@/core/design/step';
import type { Notice } from './notices';
import type { Refusal } from './outbox';
import { EMPTY_DOCUMENT, ProjectSession, type DocumentState } from './projectSession';
import { browserSurroundings, type Surroundings } from './surroundings';

export type { SaveState } from './projectSession';

type DocumentActions = {
  open(projectId: string): Promise<void>;
  close(): void;
  /**
   * The one way to edit: applies what a command gives and sends it. A command that refuses is told to the engineer and nothing changes.
   * Returns whether it was applied.
   */
  run(title: string, command: (design: Design) => readonly Change[]): boolean;
  undo(): Promise<void>;
  redo(): Promise<void>;
  goBackTo(line: Pick<LogLine, 'id' | 'revision' | 'title'>): Promise<void>;
  /** The design as it stood after a step, or null when it cannot be had now, which is told. */
  designAt(line: Pick<LogLine, 'revision'>): Promise<Design | null>;
  applyMine(refusal: Refusal): Promise<void>;
  discard(refusal: Refusal): Promise<void>;
  /** Sends bulk measurements through the same queue as steps, so that order is kept. */
  dispatch(item: Outgoing): Promise<void>;
  setNotice(notice: Notice | null): void;
};

/** One window's document: what the open project's session shows. The page has one; tests open several. */
export function createDocumentStore(surroundings: () => Surroundings = browserSurroundings) {
  let session: ProjectSession | null = null;
  let world: Surroundings | null = null;
  return create<DocumentState & DocumentActions>()((set, get) => ({
    ...EMPTY_DOCUMENT,
    async open(projectId) {
      get().close();
      world ??= surroundings();
      const own = new ProjectSession(projectId, world, (state) => session === own && set(state));
      session = own;
      await own.begin();
    },
    close() {
      session?.close();
      session = null;
      set(EMPTY_DOCUMENT);
    },
    run(title, command) {
      try {
        const { design } = get();
        const changes = command(design);
        const project = projectOf(design);
        const breaches = project === undefined ? [] : breachesOf(domainOf(project), changes, modelsOf(design));
        if (breaches.length > 0) throw notLawful(breaches);
        session?.commit(title.slice(0, 200), 'do', null, changes);
        return true;
      } catch (error) {
        if (!(error instanceof UpperRoomError)) throw error;
        set({ notice: { code: error.code, details: error.details } });
        return false;
      }
    },
    undo: async () => session?.travel('undo'),
    redo: async () => session?.travel('redo'),
    goBackTo: async (line) => session?.goBackTo(line),
    designAt: async (line) => (await session?.designAt(line)) ?? null,
    applyMine: async (refusal) => session?.applyMine(refusal),
    discard: async (refusal) => session?.discard(refusal),
    dispatch: async (item) => session?.dispatch(item),
    setNotice: (notice) => set({ notice }),
  }));
}

export const useDocument = createDocumentStore();
