import type { AnyRecord, Design } from './design';
import { sameValue, type Change } from './step';

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
    const now: AnyRecord | null = present.has(key) ? present.get(key)! : (design[change.table][change.id] ?? null);
    let after: AnyRecord | null = now;
    if (sameValue(now, change.after)) after = now;
    else if (sameValue(now, change.before)) after = change.after;
    else if (now === null || change.before === null || change.after === null) {
      conflicts.push({ table: change.table, id: change.id, field: null, yours: change.after, theirs: now });
    } else {
      const fields: Record<string, unknown> = { ...now };
      const was = change.before as Record<string, unknown>;
      const wanted = change.after as Record<string, unknown>;
      const stands = now as Record<string, unknown>;
      for (const field of new Set([...Object.keys(was), ...Object.keys(wanted)])) {
        if (sameValue(was[field], wanted[field]) || sameValue(stands[field], wanted[field])) continue;
        if (sameValue(stands[field], was[field])) fields[field] = wanted[field];
        else conflicts.push({ table: change.table, id: change.id, field, yours: wanted[field], theirs: stands[field] });
      }
      after = fields as AnyRecord;
    }
    present.set(key, after);
    if (!sameValue(now, after)) merged.push({ table: change.table, id: change.id, before: now, after } as Change);
  }
  return { changes: merged, conflicts };
}
