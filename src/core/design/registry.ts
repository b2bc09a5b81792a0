import type { z } from 'zod';
import { UpperRoomError } from '../errors';
import { accessPoint } from './kinds/accessPoint';
import { address } from './kinds/address';
import { apModel } from './kinds/apModel';
import { acceptedFinding } from './kinds/acceptedFinding';
import { clientType } from './kinds/clientType';
import { checkRule } from './kinds/checkRule';
import { drawing } from './kinds/drawing';
import { emitter } from './kinds/emitter';
import { floor } from './kinds/floor';
import type { Kind, RawRecord } from './kinds/kind';
import { mark } from './kinds/mark';
import { material } from './kinds/material';
import { opening } from './kinds/opening';
import { project } from './kinds/project';
import { reference } from './kinds/reference';
import { serviceLevel } from './kinds/serviceLevel';
import { signalReading } from './kinds/signalReading';
import { slabOpening } from './kinds/slabOpening';
import { transferTest } from './kinds/transferTest';
import { variant } from './kinds/variant';
import { walk } from './kinds/walk';
import { wall } from './kinds/wall';
import { zone } from './kinds/zone';

/** The one registry of tables, each after what its records point at. A new record kind is a file in `kinds` and a line here. */
export const KINDS = {
  project,
  materials: material,
  apModels: apModel,
  clientTypes: clientType,
  serviceLevels: serviceLevel,
  floors: floor,
  variants: variant,
  drawings: drawing,
  references: reference,
  walls: wall,
  openings: opening,
  slabOpenings: slabOpening,
  zones: zone,
  accessPoints: accessPoint,
  addresses: address,
  walks: walk,
  transferTests: transferTest,
  marks: mark,
  signalReadings: signalReading,
  emitters: emitter,
  checkRules: checkRule,
  acceptedFindings: acceptedFinding,
};

export type Table = keyof typeof KINDS;
export type RecordOf<T extends Table> = z.infer<(typeof KINDS)[T]['schema']>;
export type AnyRecord = RecordOf<Table>;

/** All that an engineer has decided, as maps of small records by id. Immutable. */
export type Design = { readonly [T in Table]: Readonly<Record<string, RecordOf<T>>> };

export const TABLES = Object.keys(KINDS) as readonly Table[];

/** Tables of earlier versions. What old projects and steps hold of them is passed over: the simulated site left the document. */
export const RETIRED_TABLES: readonly string[] = ['sites'];

export const kindOf = (table: Table): Kind => KINDS[table];
export const isTable = (name: string): name is Table => Object.hasOwn(KINDS, name);
export const versionOf = (table: Table): number => kindOf(table).migrations.length + 1;

export const EMPTY_DESIGN = Object.fromEntries(TABLES.map((table) => [table, {}])) as unknown as Design;

/** Versions of the tables that some records belong to. What carries none is of version 1 throughout. */
export type Versions = Readonly<Partial<Record<string, number>>>;
export const versionsOf = (tables: Iterable<Table>): Versions => Object.fromEntries([...new Set(tables)].map((table) => [table, versionOf(table)]));

/** Tables in which `child` records point at records of `parent`, with the field that does. */
export const CHILD_TABLES: ReadonlyMap<Table, ReadonlyArray<Readonly<{ table: Table; field: string }>>> = new Map(
  TABLES.map((parent) => [
    parent,
    TABLES.flatMap((table) => Object.entries(kindOf(table).parents).flatMap(([field, target]) => (target === parent ? [{ table, field }] : []))),
  ]),
);

/** What a record points at. What is of a catalogue is always there and is left out, as is what it may leave open. */
export function parentsOf(table: Table, record: AnyRecord): ReadonlyArray<Readonly<{ field: string; table: Table; id: string }>> {
  const { parents, catalogues } = kindOf(table);
  return Object.entries(parents).flatMap(([field, target]) => {
    const id = (record as unknown as Record<string, string | null>)[field]!;
    return id === null || catalogues[field]?.ids.has(id) ? [] : [{ field, table: target as Table, id }];
  });
}

/**
 * Brings a record of an older version to today's. It is not checked: `readRecord` does that.
 * @throws UpperRoomError PROJECT_NEWER for a version that this program does not know
 */
export function migrateRecord(table: Table, version: number, record: RawRecord): RawRecord {
  const { migrations } = kindOf(table);
  if (version > migrations.length + 1) throw new UpperRoomError('PROJECT_NEWER', { table, version, knownVersion: migrations.length + 1 });
  return migrations.slice(version - 1).reduce((at, migration) => migration(at), record);
}

/**
 * A stored record as this version knows it.
 * @throws UpperRoomError PROJECT_NEWER; RECORD_UNREADABLE when it is not what its kind says
 */
export function readRecord<T extends Table>(table: T, version: number, stored: RawRecord): RecordOf<T> {
  let migrated: RawRecord;
  try {
    migrated = migrateRecord(table, version, stored);
  } catch (error) {
    if (error instanceof UpperRoomError) throw error;
    throw new UpperRoomError('RECORD_UNREADABLE', { table, id: String(stored.id), problem: 'it cannot be brought up to date' });
  }
  const parsed = KINDS[table].schema.safeParse(migrated);
  if (parsed.success) return parsed.data as RecordOf<T>;
  const [issue] = parsed.error.issues;
  throw new UpperRoomError('RECORD_UNREADABLE', { table, id: String(stored.id), problem: `${issue?.path.join('.')}: ${issue?.message}` });
}
