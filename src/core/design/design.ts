import type { Opening, Wall } from '../building/wall';
import type { PolygonM } from '../geometry/polygon';
import type { Environment } from '../propagation/pathLoss';
import type { Band, WidthMhz } from '../radio/band';
import type { Domain } from '../radio/regulation';
import type { SiteParameters } from '../survey/site';
import type { Leg } from '../survey/walk';
import type { UnitSystem } from '../units/length';

/** Settings of the whole project; one record, id `project`. */
export type Project = Readonly<{ id: string; name: string; units: UnitSystem; domain: Domain; clientHeightM: number; cellM: number }>;

/** One level of the building. `elevationM` is the floor's height above the ground, `ceilingM` the clear height. */
export type Floor = Readonly<{ id: string; name: string; elevationM: number; ceilingM: number; environment: Environment; outline: PolygonM }>;

/** An alternative design of the same building: owns access points and walks. */
export type Variant = Readonly<{ id: string; name: string; order: number }>;

export const ZONE_KINDS = ['room', 'service', 'keep-out'] as const;
export type ZoneKind = (typeof ZONE_KINDS)[number];

/** A named area: a room (its name), a service zone (service is owed here) or a keep-out zone. */
export type Zone = Readonly<{ id: string; floorId: string; kind: ZoneKind; name: string; polygon: PolygonM }>;

/** A radio as set. `pinned` means that no planning may change it. Power is conducted. */
export type Radio = Readonly<{ band: Band; on: boolean; channel: number; widthMhz: WidthMhz; txPowerDbm: number; pinned: boolean }>;

export type AccessPoint = Readonly<{
  id: string;
  variantId: string;
  floorId: string;
  name: string;
  modelId: string;
  xM: number;
  yM: number;
  heightM: number;
  azimuthDeg: number;
  tiltDeg: number;
  pinned: boolean;
  radios: readonly Radio[];
}>;

export type Walk = Readonly<{
  id: string;
  variantId: string;
  floorId: string;
  name: string;
  startedAt: string;
  finished: boolean;
  legs: readonly Leg[];
}>;

/** The simulated site of a floor: what the receiver measures and the engineer cannot see. */
export type Site = Readonly<{ id: string; floorId: string }> & SiteParameters;

/** All that an engineer has decided, as maps of small records by id. Immutable. */
export type Design = Readonly<{
  project: Readonly<Record<string, Project>>;
  floors: Readonly<Record<string, Floor>>;
  variants: Readonly<Record<string, Variant>>;
  walls: Readonly<Record<string, Wall>>;
  openings: Readonly<Record<string, Opening>>;
  zones: Readonly<Record<string, Zone>>;
  accessPoints: Readonly<Record<string, AccessPoint>>;
  walks: Readonly<Record<string, Walk>>;
  sites: Readonly<Record<string, Site>>;
}>;

export type Table = keyof Design;
export type RecordOf<T extends Table> = Design[T][string];
export type AnyRecord = RecordOf<Table>;

/** The tables in an order in which each record comes after what it points at. */
export const TABLES = [
  'project',
  'floors',
  'variants',
  'walls',
  'openings',
  'zones',
  'accessPoints',
  'walks',
  'sites',
] as const satisfies readonly Table[];

export const PROJECT_ID = 'project';

export const EMPTY_DESIGN: Design = {
  project: {},
  floors: {},
  variants: {},
  walls: {},
  openings: {},
  zones: {},
  accessPoints: {},
  walks: {},
  sites: {},
};

/** Those of some records that lie on a floor, in order of id. */
export function recordsOn<R extends { id: string; floorId: string }>(records: Readonly<Record<string, R>>, floorId: string): R[] {
  return Object.values(records)
    .filter((record) => record.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** The records of a table that lie on a floor, in order of id. */
export function onFloor<T extends 'walls' | 'zones' | 'accessPoints' | 'walks' | 'sites'>(design: Design, table: T, floorId: string): RecordOf<T>[] {
  return recordsOn(design[table] as Readonly<Record<string, RecordOf<T>>>, floorId);
}

/** Access points of a floor in one variant, by name in the order a person counts (Q-2 before Q-10). */
export function accessPointsOf(design: Design, floorId: string, variantId: string): AccessPoint[] {
  return onFloor(design, 'accessPoints', floorId)
    .filter((ap) => ap.variantId === variantId)
    .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
}

/** Openings of a floor's walls, in order of id. */
export function openingsOf(design: Pick<Design, 'walls' | 'openings'>, floorId: string): Opening[] {
  return Object.values(design.openings)
    .filter((opening) => design.walls[opening.wallId]?.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));
}

export const projectOf = (design: Design): Project | undefined => design.project[PROJECT_ID];

/** Floors from the bottom up. */
export const floorsOf = (design: Design): Floor[] => Object.values(design.floors).sort((a, b) => a.elevationM - b.elevationM);

/** Variants in their order. */
export const variantsOf = (design: Design): Variant[] => Object.values(design.variants).sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
