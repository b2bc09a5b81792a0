import type { Change } from './step';
import type { Design } from './design';

/** A record that points at one that is not there. */
export type BrokenReference = Readonly<{ table: Change['table']; id: string; field: string; missingId: string }>;

/** Checks that every record the changes leave behind points at records that exist in `after`. */
export function brokenReferences(after: Design, changes: readonly Change[]): BrokenReference[] {
  const broken: BrokenReference[] = [];
  const need = (change: Change, field: string, there: boolean, missingId: string) => {
    if (!there) broken.push({ table: change.table, id: change.id, field, missingId });
  };
  for (const change of changes) {
    const record = after[change.table][change.id];
    if (record === undefined) continue;
    if ('floorId' in record) need(change, 'floorId', record.floorId in after.floors, record.floorId);
    if ('variantId' in record) need(change, 'variantId', record.variantId in after.variants, record.variantId);
    if ('wallId' in record) need(change, 'wallId', record.wallId in after.walls, record.wallId);
  }
  // Deleting a wall must take its openings along, a floor or variant all that lies on it.
  const gone = new Set(changes.filter((change) => change.after === null && after[change.table][change.id] === undefined).map((change) => change.id));
  if (gone.size > 0) {
    for (const table of ['walls', 'openings', 'zones', 'accessPoints', 'walks', 'sites'] as const) {
      for (const record of Object.values(after[table])) {
        for (const field of ['floorId', 'variantId', 'wallId'] as const) {
          const target = (record as unknown as Record<string, unknown>)[field];
          if (typeof target === 'string' && gone.has(target)) broken.push({ table, id: record.id, field, missingId: target });
        }
      }
    }
  }
  return broken;
}
