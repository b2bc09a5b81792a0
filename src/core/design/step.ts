import { TABLES, type AnyRecord, type Design, type RecordOf, type Table } from './design';

/** One record before and after an edit; `null` means that it does not exist on that side. */
export type Change = { [T in Table]: Readonly<{ table: T; id: string; before: RecordOf<T> | null; after: RecordOf<T> | null }> }[Table];

/** How a step stands in the history: done by hand, or undoing or redoing the step `ofStepId`. */
export type StepKind = 'do' | 'undo' | 'redo';

/** A saved edit: a title for people, and the changes. */
export type Step = Readonly<{ id: string; title: string; kind: StepKind; ofStepId: string | null; changes: readonly Change[] }>;

/** The design after the changes. Untouched tables and records stay the same objects. */
export function applyChanges(design: Design, changes: readonly Change[]): Design {
  const next: Record<string, Record<string, AnyRecord>> = {};
  for (const change of changes) {
    const table = (next[change.table] ??= { ...(design[change.table] as Record<string, AnyRecord>) });
    if (change.after === null) delete table[change.id];
    else table[change.id] = change.after;
  }
  return { ...design, ...(next as Partial<Design>) };
}

/** The changes that undo these. No command writes its own inverse. */
export function invert(changes: readonly Change[]): Change[] {
  return changes.map((change) => ({ ...change, before: change.after, after: change.before }) as Change).reverse();
}

/** A change of one record, or nothing when it changes nothing. */
export function change<T extends Table>(table: T, id: string, before: RecordOf<T> | null, after: RecordOf<T> | null): Change[] {
  return sameValue(before, after) ? [] : [{ table, id, before, after } as unknown as Change];
}

/** Every record of a design as an added one: how a project begins or is copied. */
export function additionsOf(design: Design): Change[] {
  return TABLES.flatMap((table) =>
    Object.values(design[table]).flatMap((record: AnyRecord) => change(table, record.id, null, record as RecordOf<typeof table>)),
  );
}

/** Deep equality of plain JSON values; the order of keys does not matter, a missing key equals undefined. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const left = a as Record<string, unknown>;
  const right = b as Record<string, unknown>;
  for (const key of new Set([...Object.keys(left), ...Object.keys(right)])) if (!sameValue(left[key], right[key])) return false;
  return true;
}
