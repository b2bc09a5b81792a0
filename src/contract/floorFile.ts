import { z } from 'zod';
import { UpperRoomError } from '@/core/errors';
import {
  isTable,
  kindOf,
  migrateRecord,
  versionOf,
  type AnyRecord,
  type Design,
  type RecordOf,
  type Table,
  type Versions,
} from '@/core/design/registry';
import { onFloor, openingsOf } from '@/core/design/design';
import { ringsOf, type PolygonM } from '@/core/geometry/polygon';

/**
 * A floor as a file: GeoJSON in shape (RFC 7946), but in metres on the floor with y down the plan, as `coordinates` says, for a building has no place on the
 * globe here. Each record is a feature: its geometry, and all else of it as properties. docs/formats.md has the fields.
 */
const COORDINATES = 'metres on the floor, x to the right, y down the plan';
/** Since version 2 zones have a service level and people, since 3 areas have holes and zones clutter, since 5 a floor says whether a slant counts. */
const VERSION = 5;
/** Of what version the records in older files are, where it is not today's. */
const OLDER: Readonly<Record<number, Versions>> = {
  1: { floors: 2, zones: 1, slabOpenings: 1 },
  2: { floors: 2, zones: 2, slabOpenings: 1 },
  3: { floors: 2, zones: 3 },
  4: { floors: 2 },
};

/** Tables whose records are written, each after what it points at. */
const WRITTEN = ['materials', 'serviceLevels', 'floors', 'walls', 'openings', 'slabOpenings', 'zones'] as const satisfies readonly Table[];
type Written = (typeof WRITTEN)[number];

/** The records of a file, by table. */
export type FloorRecords = { readonly [T in Written]: ReadonlyArray<RecordOf<T>> };

const position = z.tuple([z.number(), z.number()]);
const geometrySchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('Point'), coordinates: position }),
  z.object({ type: z.literal('LineString'), coordinates: z.array(position).length(2) }),
  z.object({ type: z.literal('Polygon'), coordinates: z.array(z.array(position).min(4)).min(1) }),
]);
const fileSchema = z.object({
  type: z.literal('FeatureCollection'),
  upperRoom: z.object({ version: z.number().int(), coordinates: z.string() }),
  features: z
    .array(
      z.object({
        type: z.literal('Feature'),
        id: z.string(),
        geometry: geometrySchema.nullable(),
        properties: z.record(z.string(), z.unknown()),
      }),
    )
    .max(50_000),
});

const polygonOf = (rings: readonly PolygonM[]) => ({
  type: 'Polygon',
  coordinates: rings.map((ring) => [...ring, ring[0]!].map(({ xM, yM }) => [xM, yM])),
});

/** Splits a record into what GeoJSON calls geometry and the rest. */
function featureOf(table: Written, record: AnyRecord): unknown {
  const { id, ...rest } = record as unknown as Record<string, unknown> & { id: string };
  if (table === 'walls') {
    const { axM, ayM, bxM, byM, ...properties } = rest;
    return {
      type: 'Feature',
      id,
      geometry: {
        type: 'LineString',
        coordinates: [
          [axM, ayM],
          [bxM, byM],
        ],
      },
      properties: { table, ...properties },
    };
  }
  for (const ring of ['polygon', 'outline'] as const) {
    if (!(ring in rest)) continue;
    const { [ring]: polygon, holes = [], ...properties } = rest as Record<string, unknown> & { holes?: readonly PolygonM[] };
    return { type: 'Feature', id, geometry: polygonOf([polygon as PolygonM, ...holes]), properties: { table, ...properties } };
  }
  return { type: 'Feature', id, geometry: null, properties: { table, ...rest } };
}

/** What of a design belongs into a floor's file: the floor, what stands on it, the project's own materials and the service levels owed there. */
export function floorRecords(design: Design, floorId: string): FloorRecords {
  const zones = onFloor(design, 'zones', floorId);
  return {
    materials: Object.values(design.materials),
    serviceLevels: Object.values(design.serviceLevels).filter(({ id }) => zones.some((zone) => zone.serviceLevelId === id)),
    floors: [design.floors[floorId]!],
    walls: onFloor(design, 'walls', floorId),
    openings: openingsOf(design, floorId),
    slabOpenings: onFloor(design, 'slabOpenings', floorId),
    zones,
  };
}

export function writeFloor(records: FloorRecords): string {
  const features = WRITTEN.flatMap((table) => records[table].map((record) => featureOf(table, record)));
  return JSON.stringify({ type: 'FeatureCollection', upperRoom: { version: VERSION, coordinates: COORDINATES }, features }, null, 1);
}

/** Whether a text may be a floor's file: decided before anything of it is believed. */
export const looksLikeFloor = (text: string): boolean => /^\s*\{/.test(text) && text.slice(0, 400).includes('FeatureCollection');

/**
 * Reads a floor's file.
 * @throws UpperRoomError FLOOR_FILE_UNREADABLE with what is wrong and where, PROJECT_NEWER for a file of a newer program
 */
export function readFloor(text: string): FloorRecords {
  const refuse = (problem: string): never => {
    throw new UpperRoomError('FLOOR_FILE_UNREADABLE', { problem });
  };
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return refuse(`it is no JSON: ${(error as Error).message.slice(0, 100)}`);
  }
  const parsed = fileSchema.safeParse(json);
  if (!parsed.success) return refuse(`${parsed.error.issues[0]?.path.join('.')}: ${parsed.error.issues[0]?.message}`);
  const { upperRoom, features } = parsed.data;
  if (upperRoom.version > VERSION) throw new UpperRoomError('PROJECT_NEWER', { version: upperRoom.version, knownVersion: VERSION });
  if (upperRoom.coordinates !== COORDINATES) return refuse(`coordinates: only "${COORDINATES}" are read`);
  const records: Record<Written, AnyRecord[]> = {
    materials: [],
    serviceLevels: [],
    floors: [],
    walls: [],
    openings: [],
    slabOpenings: [],
    zones: [],
  };
  for (const { id, geometry, properties } of features) {
    const { table, ...rest } = properties;
    if (typeof table !== 'string' || !isTable(table) || !(WRITTEN as readonly string[]).includes(table))
      return refuse(`${id}: there is no table ${String(table)}`);
    const read = kindOf(table).schema.safeParse(
      migrateRecord(table, OLDER[upperRoom.version]?.[table] ?? versionOf(table), { id, ...rest, ...shapeOf(table, geometry) }),
    );
    if (!read.success) return refuse(`${id}, ${read.error.issues[0]?.path.join('.')}: ${read.error.issues[0]?.message}`);
    records[table as Written].push(read.data as AnyRecord);
  }
  if (records.floors.length !== 1) return refuse('there must be one floor in it');
  return records as unknown as FloorRecords;
}

function shapeOf(table: Table, geometry: z.infer<typeof geometrySchema> | null): object {
  if (geometry === null || geometry.type === 'Point') return {};
  if (geometry.type === 'LineString') {
    const [[axM, ayM], [bxM, byM]] = geometry.coordinates as [[number, number], [number, number]];
    return { axM, ayM, bxM, byM };
  }
  const [polygon, ...holes] = geometry.coordinates.map((ring) => ring.slice(0, -1).map(([xM, yM]) => ({ xM, yM })));
  return table === 'floors' ? { outline: polygon } : { polygon, holes };
}

const COMMENT = 'upper-room ';
const MAX_COMMENT = 240;

/**
 * A floor as DXF in metres: walls as lines on a layer per material, openings and areas on layers of their own, y upward as drawings have it. So that
 * nothing is lost on the way back, comments (group 999) hold the file above; any other program passes over them.
 */
export function writeDxf(records: FloorRecords, nameOf: (materialId: string) => string): string {
  const out: Array<string | number> = [];
  const text = JSON.stringify(JSON.parse(writeFloor(records)));
  for (let at = 0; at < text.length; at += MAX_COMMENT) out.push(999, `${COMMENT}${text.slice(at, at + MAX_COMMENT)}`);
  out.push(0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES');
  const layer = (name: string): string =>
    name
      .toUpperCase()
      .replace(/[^A-Z0-9]+/g, '_')
      .replace(/^_|_$/g, '') || 'LAYER';
  const line = (name: string, ax: number, ay: number, bx: number, by: number) =>
    out.push(0, 'LINE', 8, layer(name), 10, ax, 20, -ay, 11, bx, 21, -by);
  for (const wall of records.walls) line(nameOf(wall.materialId), wall.axM, wall.ayM, wall.bxM, wall.byM);
  for (const opening of records.openings) {
    const wall = records.walls.find(({ id }) => id === opening.wallId);
    if (wall === undefined) continue;
    const lengthM = Math.hypot(wall.bxM - wall.axM, wall.byM - wall.ayM);
    const [ux, uy] = [(wall.bxM - wall.axM) / lengthM, (wall.byM - wall.ayM) / lengthM];
    const [from, to] = [opening.atM, opening.atM + opening.widthM];
    line(`OPENING ${opening.kind}`, wall.axM + ux * from, wall.ayM + uy * from, wall.axM + ux * to, wall.ayM + uy * to);
  }
  const ring = (name: string, polygon: PolygonM) =>
    out.push(0, 'LWPOLYLINE', 8, layer(name), 90, polygon.length, 70, 1, ...polygon.flatMap(({ xM, yM }) => [10, xM, 20, -yM]));
  for (const floor of records.floors) ring('OUTLINE', floor.outline);
  for (const zone of records.zones) for (const one of ringsOf(zone)) ring(`ZONE ${zone.kind}`, one);
  for (const hole of records.slabOpenings) for (const one of ringsOf(hole)) ring('SLAB OPENING', one);
  out.push(0, 'ENDSEC', 0, 'EOF');
  return `${out.join('\n')}\n`;
}

/** The floor that a DXF of ours holds in its comments; null for any other DXF. @throws UpperRoomError FLOOR_FILE_UNREADABLE, PROJECT_NEWER */
export function floorInDxf(text: string): FloorRecords | null {
  const parts = [...text.matchAll(/^\s*999\r?\nupper-room (.*?)\r?$/gm)].map((match) => match[1]!);
  return parts.length === 0 ? null : readFloor(parts.join(''));
}
