import type { StepHead } from './step';

/** Ids of the steps that undo and redo would take next, newest last. Derived from the step log, so that it outlives a reload. */
export type History = Readonly<{ undo: readonly string[]; redo: readonly string[] }>;

export const EMPTY_HISTORY: History = { undo: [], redo: [] };

/**
 * An author's history after the steps of a log. Undo takes back one's own steps: those of others change nothing here (nobody's, from the
 * time before authors were kept, are everybody's). A step done by hand ends what could be redone.
 */
export function historyOf(log: Iterable<Pick<StepHead, 'id' | 'kind' | 'ofStepId' | 'author'>>, author: string): History {
  // In one pass over lists of its own: a long day's log is read again at every edit.
  let undo: string[] = [];
  let redo: string[] = [];
  for (const { id, kind, ofStepId, author: of } of log) {
    if (of !== null && of !== author) continue;
    if (kind === 'do' || ofStepId === null) {
      undo.push(id);
      redo = [];
      continue;
    }
    undo = undo.filter((other) => other !== ofStepId);
    redo = redo.filter((other) => other !== ofStepId);
    (kind === 'undo' ? redo : undo).push(ofStepId);
  }
  return { undo, redo };
}
