import { isTable, migrateRecord, TABLES, versionsOf, type AnyRecord, type Design, type RecordOf, type Table, type Versions } from './registry';
import type { RawRecord } from './kinds/kind';

/** One record before and after an edit; `null` means that it does not exist on that side. */
export type Change = { [T in Table]: Readonly<{ table: T; id: string; before: RecordOf<T> | null; after: RecordOf<T> | null }> }[Table];

/** How a step stands in the history: done by hand (going back to the step `ofStepId`, where it has one), or undoing or redoing that step. */
export type StepKind = 'do' | 'undo' | 'redo';

/**
 * A saved edit: a title for people, who made it, and the changes. `author` is null for steps of the time before authors were kept;
 * `versions` are those of the record kinds it touches, so that it can be read years later.
 */
export type Step = Readonly<{
  id: string;
  title: string;
  kind: StepKind;
  ofStepId: string | null;
  author: string | null;
  versions: Versions;
  changes: readonly Change[];
}>;

/** A step's line in the log: all but its changes. */
export type StepHead = Pick<Step, 'id' | 'title' | 'kind' | 'ofStepId' | 'author'>;

/** A step of today's versions. */
export function newStep(
  id: string,
  title: string,
  author: string,
  changes: readonly Change[],
  kind: StepKind = 'do',
  ofStepId: string | null = null,
): Step {
  return { id, title, kind, ofStepId, author, versions: versionsOf(changes.map((one) => one.table)), changes };
}

/** A change as it may be stored: of any table and version. */
export type RawChange = Readonly<{ table: string; id: string; before: RawRecord | null; after: RawRecord | null }>;

/**
 * Stored changes brought to today's versions; those of retired tables are left out. They were valid when they were stored and are not
 * checked again.
 * @throws UpperRoomError PROJECT_NEWER
 */
export function migrateChanges(changes: readonly RawChange[], versions: Versions): Change[] {
  return changes.flatMap((raw): Change[] => {
    const { table } = raw;
    if (!isTable(table)) return [];
    const today = (record: RawRecord | null) => (record === null ? null : migrateRecord(table, versions[table] ?? 1, record));
    return [{ table, id: raw.id, before: today(raw.before), after: today(raw.after) } as unknown as Change];
  });
}

/** The record of a table by id, by its own keys only; null when there is none. */
export const recordAt = (design: Design, table: Table, id: string): AnyRecord | null =>
  Object.hasOwn(design[table], id) ? (design[table] as Readonly<Record<string, AnyRecord>>)[id]! : null;

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

/** What leads from one design to another, for the records that some changes name. */
export function changesBetween(from: Design, to: Design, touched: Iterable<Pick<Change, 'table' | 'id'>>): Change[] {
  const seen = new Map([...touched].map((one) => [`${one.table}/${one.id}`, one]));
  return [...seen.values()].flatMap(({ table, id }) => change(table, id, recordAt(from, table, id) as never, recordAt(to, table, id) as never));
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
