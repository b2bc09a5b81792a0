import { CHILD_TABLES, kindOf, parentsOf, TABLES, type AnyRecord, type Design, type Table } from './registry';
import { recordAt, type Change } from './step';

/** A record of a table. */
export type Pointer = Readonly<{ table: Table; id: string }>;
/** A record that points at one that is not there, or the last of its kind going. */
export type BrokenReference = Readonly<{ table: Table; id: string; field: string; missingId: string }>;

export const keyOf = ({ table, id }: Pointer): string => `${table}/${id}`;

/** What has to be known of the rest of the design before changes can be checked: asked of a database, or of a design in memory. */
export type Questions = Readonly<{
  /** Records that must exist for the changes to stand. */
  parents: readonly Pointer[];
  /** Records that go: who points at them? */
  removed: readonly Pointer[];
  /** Tables that lose records but must keep one: how many are there? */
  counted: readonly Table[];
}>;

/** The answers, as the design stands before the changes. */
export type Facts = Readonly<{
  existing: ReadonlySet<string>;
  children: ReadonlyArray<Pointer & Readonly<{ field: string; parent: Pointer }>>;
  counts: ReadonlyMap<Table, number>;
}>;

/** The last state that the changes give each record. */
const outcome = (changes: readonly Change[]): Map<string, Change> => new Map(changes.map((change) => [keyOf(change), change]));

export function questionsOf(changes: readonly Change[]): Questions {
  const last = [...outcome(changes).values()];
  const parents = new Map<string, Pointer>();
  for (const { table, after } of last) {
    if (after !== null) for (const { table: parent, id } of parentsOf(table, after)) parents.set(`${parent}/${id}`, { table: parent, id });
  }
  const removed = last.filter((change) => change.after === null);
  return {
    parents: [...parents.values()],
    removed: removed.map(({ table, id }) => ({ table, id })),
    counted: TABLES.filter((table) => kindOf(table).keepOne && removed.some((change) => change.table === table)),
  };
}

/** Checks that every record points at records that exist after the changes, and that no table loses its last one that must keep one. */
export function brokenReferences(changes: readonly Change[], facts: Facts): BrokenReference[] {
  const last = outcome(changes);
  const stands = (key: string): boolean => (last.has(key) ? last.get(key)!.after !== null : facts.existing.has(key));
  const broken: BrokenReference[] = [];
  for (const { table, id, after } of last.values()) {
    if (after === null) continue;
    for (const parent of parentsOf(table, after)) if (!stands(keyOf(parent))) broken.push({ table, id, field: parent.field, missingId: parent.id });
  }
  // Deleting a wall must take its openings along, a floor or variant all that lies on it. What the changes touch was looked at above.
  for (const { table, id, field, parent } of facts.children)
    if (!last.has(keyOf({ table, id })) && !stands(keyOf(parent))) broken.push({ table, id, field, missingId: parent.id });
  for (const [table, count] of facts.counts) {
    const ofTable = [...last.values()].filter((change) => change.table === table);
    const gone = ofTable.filter((change) => change.after === null && facts.existing.has(keyOf(change)));
    const come = ofTable.filter((change) => change.after !== null && !facts.existing.has(keyOf(change)));
    if (count - gone.length + come.length < 1) broken.push({ table, id: gone[0]?.id ?? '', field: 'id', missingId: gone[0]?.id ?? '' });
  }
  return broken;
}

/** Answers questions from a design in memory. */
export function factsOf(design: Design, { parents, removed, counted }: Questions): Facts {
  const gone = new Set(removed.map(keyOf));
  return {
    existing: new Set([...parents, ...removed].filter(({ table, id }) => recordAt(design, table, id) !== null).map(keyOf)),
    children: removed.flatMap((parent) => childrenOf(design, parent)).filter(({ parent }) => gone.has(keyOf(parent))),
    counts: new Map(counted.map((table) => [table, Object.keys(design[table]).length])),
  };
}

/** The records that point at one. */
export function childrenOf(design: Design, parent: Pointer): Array<Pointer & { field: string; parent: Pointer }> {
  return CHILD_TABLES.get(parent.table)!.flatMap(({ table, field }) =>
    Object.values<AnyRecord>(design[table])
      .filter((record) => (record as unknown as Record<string, unknown>)[field] === parent.id)
      .map(({ id }) => ({ table, id, field, parent })),
  );
}
