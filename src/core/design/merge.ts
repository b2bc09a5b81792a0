import type { AnyRecord, Design } from './registry';
import { recordAt, sameValue, type Change } from './step';

/** A value that two people changed: the field, what was sent and what stands. `field` is null when the whole record was added or deleted. */
export type Conflict = Readonly<{ table: Change['table']; id: string; field: string | null; yours: unknown; theirs: unknown }>;

/** What of a step can be applied to the design as it now stands, with true `before` values, and what cannot. */
export type Merge = Readonly<{ changes: Change[]; conflicts: Conflict[] }>;

/**
 * Fits changes made on an older design onto the present one. Fields that nobody else touched are taken; a field that both changed
 * differently stays as it stands and is listed with both values. Deleting a record that somebody changed meanwhile is refused.
 */
export function mergeChanges(design: Design, changes: readonly Change[]): Merge {
  const merged: Change[] = [];
  const conflicts: Conflict[] = [];
  const present = new Map<string, AnyRecord | null>();
  for (const change of changes) {
    const key = `${change.table}/${change.id}`;
    const now = present.has(key) ? present.get(key)! : recordAt(design, change.table, change.id);
    let after: AnyRecord | null = now;
    if (sameValue(now, change.after)) after = now;
    else if (sameValue(now, change.before)) after = change.after;
    else if (now === null || change.before === null || change.after === null) {
      conflicts.push({ table: change.table, id: change.id, field: null, yours: change.after, theirs: now });
    } else {
      const { record, contested } = mergeFields(now, change.before, change.after);
      after = record;
      for (const { field, yours, theirs } of contested) conflicts.push({ table: change.table, id: change.id, field, yours, theirs });
    }
    present.set(key, after);
    if (!sameValue(now, after)) merged.push({ table: change.table, id: change.id, before: now, after } as Change);
  }
  return { changes: merged, conflicts };
}

function mergeFields(now: AnyRecord, before: AnyRecord, after: AnyRecord) {
  const fields: Record<string, unknown> = { ...now };
  const contested: Array<{ field: string; yours: unknown; theirs: unknown }> = [];
  const was = before as unknown as Record<string, unknown>;
  const wanted = after as unknown as Record<string, unknown>;
  const stands = now as unknown as Record<string, unknown>;
  for (const field of new Set([...Object.keys(was), ...Object.keys(wanted)])) {
    if (sameValue(was[field], wanted[field]) || sameValue(stands[field], wanted[field])) continue;
    if (sameValue(stands[field], was[field])) fields[field] = wanted[field];
    else contested.push({ field, yours: wanted[field], theirs: stands[field] });
  }
  return { record: fields as unknown as AnyRecord, contested };
}

/**
 * The changes that make refused edits stand after all, on the design as it is now: what the edit set wins, what it did not touch stays.
 * A record that somebody deleted comes back as the edit left it.
 */
export function insistOn(design: Design, changes: readonly Change[]): Change[] {
  const present = new Map<string, AnyRecord | null>();
  return changes.flatMap((change): Change[] => {
    const key = `${change.table}/${change.id}`;
    const now = present.has(key) ? present.get(key)! : recordAt(design, change.table, change.id);
    let after: AnyRecord | null = change.after;
    if (now !== null && change.before !== null && change.after !== null) {
      const fields: Record<string, unknown> = { ...now };
      const was = change.before as unknown as Record<string, unknown>;
      for (const [field, wanted] of Object.entries(change.after)) if (!sameValue(was[field], wanted)) fields[field] = wanted;
      after = fields as unknown as AnyRecord;
    }
    present.set(key, after);
    return sameValue(now, after) ? [] : [{ table: change.table, id: change.id, before: now, after } as Change];
  });
}

/** The part of an edit that conflicts name: what is left to settle of a step that was taken in part. */
export function contestedPart(changes: readonly Change[], conflicts: readonly Conflict[]): Change[] {
  return changes.flatMap((change): Change[] => {
    const own = conflicts.filter((conflict) => conflict.table === change.table && conflict.id === change.id);
    if (own.length === 0) return [];
    if (own.some((conflict) => conflict.field === null) || change.before === null || change.after === null) return [change];
    const after: Record<string, unknown> = { ...change.before };
    for (const { field } of own) after[field!] = (change.after as unknown as Record<string, unknown>)[field!];
    return [{ ...change, after } as unknown as Change];
  });
}
