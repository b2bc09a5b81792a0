import type { StepHead } from './step';

/** Ids of the steps that undo and redo would take next, newest last. Derived from the step log, so that it outlives a reload. */
export type History = Readonly<{ undo: readonly string[]; redo: readonly string[] }>;

export const EMPTY_HISTORY: History = { undo: [], redo: [] };

/**
 * An author's history after one more step. Undo takes back one's own steps: those of others change nothing here (nobody's, from the time
 * before authors were kept, are everybody's). A step done by hand ends what could be redone.
 */
export function recordStep(history: History, step: Pick<StepHead, 'id' | 'kind' | 'ofStepId' | 'author'>, author: string): History {
  if (step.author !== null && step.author !== author) return history;
  const { undo, redo } = history;
  const without = (list: readonly string[]) => list.filter((id) => id !== step.ofStepId);
  if (step.kind === 'undo' && step.ofStepId !== null) return { undo: without(undo), redo: [...without(redo), step.ofStepId] };
  if (step.kind === 'redo' && step.ofStepId !== null) return { undo: [...without(undo), step.ofStepId], redo: without(redo) };
  return { undo: [...undo, step.id], redo: [] };
}
