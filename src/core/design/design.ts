import { EXPONENT } from '../propagation/pathLoss';
import { inOrder } from './names';
import { materialOf, type Material, type MaterialLookup } from '../building/material';
import { CLIENT_TYPES, COMMON_TYPE, type ClientType } from '../radio/clientTypes';
import { AP_MODELS, modelOf, type ApModel, type ModelLookup } from '../radio/catalogue';
import { MATERIAL_CATALOGUE, MODEL_CATALOGUE, type Catalogue } from './kinds/kind';
import { PROJECT_ID } from './kinds/project';
import type { radioSchema } from './kinds/accessPoint';
import type { Design, RecordOf, Table } from './registry';
import type { Domain } from '../radio/regulation';
import type { z } from 'zod';

export { PROJECT_ID };
export { EMPTY_DESIGN, TABLES, type AnyRecord, type Design, type RecordOf, type Table } from './registry';
export { ZONE_KINDS, type ZoneKind } from './kinds/zone';

/** The records by name; each is what its kind's schema says. */
export type Project = RecordOf<'project'>;
export type Floor = RecordOf<'floors'>;
export type Variant = RecordOf<'variants'>;
export type Drawing = RecordOf<'drawings'>;
export type Reference = RecordOf<'references'>;
export type Opening = RecordOf<'openings'>;
export type SlabOpening = RecordOf<'slabOpenings'>;
export type ServiceLevel = RecordOf<'serviceLevels'>;
export type Zone = RecordOf<'zones'>;
export type AccessPoint = RecordOf<'accessPoints'>;
/** A network name with the bands in which it is announced. */
export type Ssid = NonNullable<Project['network']['ssids']>[number];
export type Radio = z.infer<typeof radioSchema>;
export type Walk = RecordOf<'walks'>;
export type ClientTypeRecord = RecordOf<'clientTypes'>;

/** Tables whose records lie on a floor by a field of their own. */
export type FloorTable = { [T in Table]: RecordOf<T> extends { floorId: string } ? T : never }[Table];

/** Those of some records that lie on a floor, in order of id. */
export function recordsOn<R extends { id: string; floorId: string }>(records: Readonly<Record<string, R>>, floorId: string): R[] {
  return Object.values(records)
    .filter((record) => record.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** Tables are immutable: what was picked out of one holds as long as it is there. */
const listed = new WeakMap<object, Map<string, unknown>>();
function listedOnce<T>(table: object, key: string, make: () => T): T {
  const lists = listed.get(table) ?? new Map<string, unknown>();
  listed.set(table, lists);
  if (!lists.has(key)) lists.set(key, make());
  return lists.get(key) as T;
}

/** The records of a table that lie on a floor, in order of id. The list is shared: sort a copy. */
export function onFloor<T extends FloorTable>(design: Design, table: T, floorId: string): readonly RecordOf<T>[] {
  const records = design[table] as Readonly<Record<string, RecordOf<T> & { floorId: string }>>;
  return listedOnce(records, floorId, () => recordsOn(records, floorId));
}

/** Access points of a floor in one variant, by name in the order a person counts. The list is shared: sort a copy. */
export function accessPointsOf(design: Design, floorId: string, variantId: string): readonly AccessPoint[] {
  return listedOnce(design.accessPoints, `${floorId} in ${variantId}`, () =>
    onFloor(design, 'accessPoints', floorId)
      .filter((ap) => ap.variantId === variantId)
      .sort((a, b) => inOrder(a.name, b.name)),
  );
}

/** Access points of a variant in the whole building: those of one floor first, then floor by floor from below. */
export function accessPointsAround(design: Design, floorId: string, variantId: string): AccessPoint[] {
  const others = floorsOf(design).filter((floor) => floor.id !== floorId);
  return [floorId, ...others.map(({ id }) => id)].flatMap((id) => accessPointsOf(design, id, variantId));
}

/** Openings of a floor's walls, in order of id. */
export function openingsOf({ walls, openings }: Pick<Design, 'walls' | 'openings'>, floorId: string): readonly Opening[] {
  const byFloor = listedOnce(openings, 'of walls', () => new WeakMap<object, Map<string, readonly Opening[]>>());
  const floors = byFloor.get(walls) ?? new Map<string, readonly Opening[]>();
  byFloor.set(walls, floors);
  const known = floors.get(floorId);
  if (known !== undefined) return known;
  const found = Object.values(openings)
    .filter((opening) => walls[opening.wallId]?.floorId === floorId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));
  floors.set(floorId, found);
  return found;
}

/** The path loss exponent of a floor: what was measured, else that of its environment. */
export const exponentOf = ({ exponent, environment }: Pick<Floor, 'exponent' | 'environment'>): number => exponent ?? EXPONENT[environment];

export const projectOf = (design: Design): Project | undefined => design.project[PROJECT_ID];

/** The law that a project is under: of the list, or its own. */
export const domainOf = ({ domain, ownDomain }: Pick<Project, 'domain' | 'ownDomain'>): Domain => (domain === 'own' ? ownDomain! : domain);

/** Floors from the bottom up. */
export const floorsOf = (design: Design): Floor[] => Object.values(design.floors).sort((a, b) => a.elevationM - b.elevationM);

/** Variants in their order. */
export const variantsOf = (design: Design): Variant[] => Object.values(design.variants).sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));

/** Service levels by name. */
export const levelsOf = (design: Pick<Design, 'serviceLevels'>): ServiceLevel[] => Object.values(design.serviceLevels).sort(byName);

/** References of one drawing, in order of id. */
export const referencesOf = (design: Pick<Design, 'references'>, drawingId: string): Reference[] =>
  Object.values(design.references)
    .filter((reference) => reference.drawingId === drawingId)
    .sort((a, b) => (a.id < b.id ? -1 : 1));

type Named = Readonly<{ id: string; name: string }>;

/** In the order in which a person reads names. */
const byName = (a: Named, b: Named): number => inOrder(a.name, b.name) || (a.id < b.id ? -1 : 1);

/**
 * The way from an id to a record of the project's own or to what the catalogue has. One that another window deleted a moment ago, or that could not be
 * read, is taken as what stands in for it, and its name says so: nothing that names it takes the page down.
 */
function lookup<R extends Named>(word: string, { ids, instead }: Catalogue & { instead: string }, ofCatalogue: (id: string) => R) {
  const standIns = new Map<string, R>();
  const missing = (id: string): R => {
    const known = standIns.get(id) ?? { ...ofCatalogue(instead), id, name: `${word} that is gone, taken as ${ofCatalogue(instead).name}` };
    standIns.set(id, known);
    return known;
  };
  return (own: Readonly<Record<string, R>>) =>
    (id: string): R =>
      Object.hasOwn(own, id) ? own[id]! : ids.has(id) ? ofCatalogue(id) : missing(id);
}
const materialLookup = lookup<Material>('Material', MATERIAL_CATALOGUE, materialOf);
const modelLookup = lookup<ApModel>('Model', MODEL_CATALOGUE, modelOf);

/** Materials by their ids; what is gone is taken as what walls are of when their material goes. */
export const materialsOf = ({ materials }: Pick<Design, 'materials'>): MaterialLookup => materialLookup(materials);

/** Access point models by their ids; what is gone is taken as the catalogue's first. */
export const modelsOf = ({ apModels }: Pick<Design, 'apModels'>): ModelLookup => modelLookup(apModels);

/** All models that an access point may be of: the catalogue's, then the project's own by name. */
export const allModels = ({ apModels }: Pick<Design, 'apModels'>): ApModel[] => [...AP_MODELS, ...Object.values(apModels).sort(byName)];

/** All client types there are, the catalogue's first, then the project's own by name. */
export const allClientTypes = ({ clientTypes }: Pick<Design, 'clientTypes'>): ClientType[] => [
  ...CLIENT_TYPES,
  ...Object.values(clientTypes).sort(byName),
];

/** Client types by their ids; the common one for an id that is none, as it may stand in a browser's storage. */
export const clientTypesOf =
  ({ clientTypes }: Pick<Design, 'clientTypes'>) =>
  (id: string): ClientType =>
    (Object.hasOwn(clientTypes, id) ? clientTypes[id] : CLIENT_TYPES.find((type) => type.id === id)) ?? COMMON_TYPE;

/** Those that are expected, in the order of the list. */
export const expectedClients = (design: Pick<Design, 'clientTypes' | 'project'>): ClientType[] =>
  allClientTypes(design).filter(({ id }) => design.project[PROJECT_ID]?.clientTypes.includes(id));

/** What is owed in a zone; null where nobody has said. */
export const serviceLevelOf = ({ serviceLevels }: Pick<Design, 'serviceLevels'>, { serviceLevelId }: Zone): ServiceLevel | null =>
  serviceLevelId === null ? null : (serviceLevels[serviceLevelId] ?? null);

/** Whether a drawing's size is measured: by known lengths on it, or by what its file says. */
export const isMeasured = (design: Pick<Design, 'references'>, drawing: Drawing): boolean =>
  drawing.scaleFrom === 'file' || referencesOf(design, drawing.id).length > 0;

/** Whether lengths on a floor are true: it was drawn in metres, or a drawing that lies on it is measured. One laid over the walls is as true as they are. */
export function isToScale(design: Design, floorId: string): boolean {
  const drawings = onFloor(design, 'drawings', floorId);
  return drawings.every(({ scaleFrom }) => scaleFrom === 'walls') || drawings.some((drawing) => isMeasured(design, drawing));
}
