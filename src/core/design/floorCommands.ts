import { thicknessM, type Material } from '../building/material';
import type { Wall } from '../building/wall';
import { UpperRoomError } from '../errors';
import { moved, residualsOf, similarityOf, type Pair, type Similarity } from '../geometry/similarity';
import { existing, nextName, round } from './commands';
import {
  floorsOf,
  materialsOf,
  onFloor,
  openingsOf,
  referencesOf,
  type Design,
  type Floor,
  type Opening,
  type SlabOpening,
  type Zone,
  type RecordOf,
  type ServiceLevel,
} from './design';
import { moveFloor } from './floorMove';
import { change, sameValue, type Change } from './step';

/** Height of a storey that nobody has measured: the clear height and the slab above it. */
const storeyM = (design: Design, floor: Floor, above: Floor | undefined): number =>
  above === undefined ? floor.ceilingM + thicknessM(materialsOf(design)(floor.slabMaterialId)) : above.elevationM - floor.elevationM;

/** Adds a floor above the highest, alike in outline and height. */
export function addFloor(design: Design, id: string): Change[] {
  const top = floorsOf(design).at(-1)!;
  const floor: Floor = {
    ...top,
    id,
    name: freeName(design, 'Level'),
    elevationM: round(top.elevationM + storeyM(design, top, undefined)),
    registeredWorstM: null,
  };
  return change('floors', id, null, floor);
}

function freeName(design: Design, word: string): string {
  const names = new Set(floorsOf(design).map(({ name }) => name));
  for (let n = names.size + 1; ; n++) if (!names.has(`${word} ${n}`)) return `${word} ${n}`;
}

/** What of a floor is copied with it. Drawings and their references always are: they are what the rest was drawn over. */
export type FloorParts = Readonly<{ walls: boolean; zones: boolean; accessPoints: boolean }>;

/** A copy of a floor on top of the building, with its drawings and what else is asked for. Walks stay where they were walked. */
export function duplicateFloor(design: Design, floorId: string, parts: FloorParts, newId: () => string): Change[] {
  const floor = existing(design, 'floors', floorId);
  const top = floorsOf(design).at(-1)!;
  const id = newId();
  const copy: Floor = {
    ...floor,
    id,
    name: `${floor.name}, copy`.slice(0, 120),
    elevationM: round(top.elevationM + storeyM(design, top, undefined)),
    // A copy lies exactly over what it was copied from, and as well over the rest as that.
    registeredWorstM: levelOf(design, floorId) === 0 ? 0 : floor.registeredWorstM,
  };
  const changes: Change[] = change('floors', id, null, copy);
  for (const drawing of onFloor(design, 'drawings', floorId)) {
    const drawingId = newId();
    changes.push(...change('drawings', drawingId, null, { ...drawing, id: drawingId, floorId: id }));
    for (const reference of referencesOf(design, drawing.id)) {
      const referenceId = newId();
      changes.push(...change('references', referenceId, null, { ...reference, id: referenceId, drawingId }));
    }
  }
  if (parts.walls) {
    const wallIds = new Map<string, string>();
    for (const wall of onFloor(design, 'walls', floorId)) {
      const wallId = newId();
      wallIds.set(wall.id, wallId);
      changes.push(...change('walls', wallId, null, { ...wall, id: wallId, floorId: id }));
    }
    for (const opening of openingsOf(design, floorId)) {
      const openingId = newId();
      changes.push(...change('openings', openingId, null, { ...opening, id: openingId, wallId: wallIds.get(opening.wallId)! }));
    }
  }
  if (parts.zones) {
    for (const zone of onFloor(design, 'zones', floorId)) {
      const zoneId = newId();
      changes.push(...change('zones', zoneId, null, { ...zone, id: zoneId, floorId: id }));
    }
    for (const hole of onFloor(design, 'slabOpenings', floorId)) {
      const holeId = newId();
      changes.push(...change('slabOpenings', holeId, null, { ...hole, id: holeId, floorId: id }));
    }
  }
  if (parts.accessPoints) {
    let next: Design = { ...design, floors: { ...design.floors, [id]: copy } };
    for (const ap of onFloor(design, 'accessPoints', floorId)) {
      const apId = newId();
      const hung = { ...ap, id: apId, floorId: id, name: nextName(next, id, ap.variantId) };
      next = { ...next, accessPoints: { ...next.accessPoints, [apId]: hung } };
      changes.push(...change('accessPoints', apId, null, hung));
    }
  }
  return changes;
}

/** What a file holds of a floor: records with ids of their own. */
export type FloorContents = Readonly<{
  materials: readonly Material[];
  serviceLevels: readonly ServiceLevel[];
  floors: readonly Floor[];
  walls: readonly Wall[];
  openings: readonly Opening[];
  slabOpenings: readonly SlabOpening[];
  zones: readonly Zone[];
}>;

/**
 * Adds a floor as a file holds it, under new ids; the first is the floor's. A material or service level that is there already, alike in all but its id, is used and not
 * added again. Where a floor stands at its height already, it comes on top.
 */
export function addFloorFrom(design: Design, contents: FloorContents, newId: () => string): Change[] {
  const [floor] = contents.floors;
  const id = newId();
  const stack = floorsOf(design);
  const top = stack.at(-1)!;
  const taken = stack.some(({ elevationM }) => elevationM === floor!.elevationM);
  const names = new Map<string, string>();
  const changes: Change[] = [];
  const bring = <T extends 'materials' | 'serviceLevels'>(table: T, records: ReadonlyArray<RecordOf<T>>) => {
    for (const record of records) {
      const alike = (Object.values(design[table]) as RecordOf<T>[]).find((known) => sameValue({ ...known, id: '' }, { ...record, id: '' }));
      const ownId = alike?.id ?? newId();
      names.set(record.id, ownId);
      if (alike === undefined) changes.push(...change(table, ownId, null, { ...record, id: ownId }));
    }
  };
  bring('materials', contents.materials);
  bring('serviceLevels', contents.serviceLevels);
  const materialId = (of: string): string => names.get(of) ?? of;
  changes.push(
    ...change('floors', id, null, {
      ...floor!,
      id,
      slabMaterialId: materialId(floor!.slabMaterialId),
      elevationM: taken ? round(top.elevationM + storeyM(design, top, undefined)) : floor!.elevationM,
      // It was laid over another building's floors, if over any.
      registeredWorstM: null,
    }),
  );
  const wallIds = new Map(contents.walls.map((wall) => [wall.id, newId()]));
  for (const wall of contents.walls) {
    const wallId = wallIds.get(wall.id)!;
    changes.push(...change('walls', wallId, null, { ...wall, id: wallId, floorId: id, materialId: materialId(wall.materialId) }));
  }
  for (const opening of contents.openings) {
    const wallId = wallIds.get(opening.wallId);
    if (wallId === undefined) continue;
    const openingId = newId();
    changes.push(...change('openings', openingId, null, { ...opening, id: openingId, wallId, materialId: materialId(opening.materialId) }));
  }
  for (const zone of contents.zones) {
    const zoneId = newId();
    const serviceLevelId = zone.serviceLevelId === null ? null : (names.get(zone.serviceLevelId) ?? null);
    changes.push(...change('zones', zoneId, null, { ...zone, id: zoneId, floorId: id, serviceLevelId }));
  }
  for (const hole of contents.slabOpenings) {
    const holeId = newId();
    changes.push(...change('slabOpenings', holeId, null, { ...hole, id: holeId, floorId: id }));
  }
  return changes;
}

/** Puts a floor one higher or lower among the others; storeys keep their heights. At the end of the building nothing changes. */
export function restackFloor(design: Design, floorId: string, way: 'up' | 'down'): Change[] {
  const stack = floorsOf(design);
  const at = stack.findIndex(({ id }) => id === floorId);
  const lower = way === 'up' ? at : at - 1;
  const [below, above] = [stack[lower], stack[lower + 1]];
  if (below === undefined || above === undefined) return [];
  const aboveStoreyM = storeyM(design, above, stack[lower + 2]);
  return [
    ...change('floors', above.id, above, { ...above, elevationM: below.elevationM }),
    ...change('floors', below.id, below, { ...below, elevationM: round(below.elevationM + aboveStoreyM) }),
  ];
}

/** How a floor would be laid over another: the transform, and what is left between each pair of points, in m. */
export function registration(pairs: readonly Pair[], scaled: boolean): Readonly<{ similarity: Similarity; residualsM: readonly number[] }> {
  const similarity = similarityOf(pairs, scaled);
  return { similarity, residualsM: residualsOf(similarity, pairs) };
}

/**
 * Lays a floor over another by pairs of common points, `from` on it and `to` on the other: everything on it moves as one, drawings, walls, zones, access points and walks.
 * @throws UpperRoomError PAIRS_TOO_FEW
 */
export function registerFloor(design: Design, floorId: string, pairs: readonly Pair[], scaled: boolean): Change[] {
  const { similarity, residualsM } = registration(pairs, scaled);
  if (!(similarity.scale > 0.01 && similarity.scale < 100)) throw new UpperRoomError('PAIRS_TOO_FEW');
  const { scale, turnDeg } = similarity;
  // A floor that was scaled is as large as the one below.
  return moveFloor(
    design,
    floorId,
    { to: (at) => moved(similarity, at), turnDeg, scale },
    { fields: { registeredWorstM: round(Math.max(...residualsM)) } },
  );
}

/** Where a floor of the building stands in its stack: its number from below, beginning with 0. */
export const levelOf = (design: Design, floorId: string): number => floorsOf(design).findIndex(({ id }) => id === floorId);

/** The floor below a floor; null for the lowest. */
export const floorBelow = (design: Design, floorId: string): Floor | null => floorsOf(design)[levelOf(design, floorId) - 1] ?? null;
