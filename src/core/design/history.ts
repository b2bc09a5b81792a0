import type { Step } from './step';

/** Ids of the steps that undo and redo would take next, newest last. Derived from the step log, so that it outlives a reload. */
export type History = Readonly<{ undo: readonly string[]; redo: readonly string[] }>;

export const EMPTY_HISTORY: History = { undo: [], redo: [] };

/** The history after one more step. A step done by hand ends what could be redone. */
export function recordStep(history: History, step: Pick<Step, 'id' | 'kind' | 'ofStepId'>): History {
  const { undo, redo } = history;
  const without = (list: readonly string[]) => list.filter((id) => id !== step.ofStepId);
  if (step.kind === 'undo' && step.ofStepId !== null) return { undo: without(undo), redo: [...redo, step.ofStepId] };
  if (step.kind === 'redo' && step.ofStepId !== null) return { undo: [...undo, step.ofStepId], redo: without(redo) };
  return { undo: [...undo, step.id], redo: [] };
}
