import { describe, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { addArea, cutHole } from '@/core/design/areaCommands';
import { edit, newProject } from '@/core/design/commands';
import { EMPTY_DESIGN, floorsOf, materialsOf, onFloor, openingsOf, type Design } from '@/core/design/design';
import { addFloorFrom } from '@/core/design/floorCommands';
import { addMaterial, editMaterial } from '@/core/design/materialCommands';
import { applyChanges } from '@/core/design/step';
import { readDxf } from '@/core/formats/dxf';
import { floorInDxf, floorRecords, looksLikeFloor, readFloor, writeDxf, writeFloor } from './floorFile';

const plain = museum();
const gallery = floorsOf(plain)[1]!;
const own = applyChanges(plain, addMaterial(plain, 'mine', 'glass-double'));
const measured = applyChanges(own, editMaterial(own, 'mine', { measuredDb: { '5': 6.5 } }));
const [firstWall] = onFloor(measured, 'walls', gallery.id);
const marked = applyChanges(measured, edit(measured, 'walls', firstWall!.id, { materialId: 'mine' }));
const square = (xM: number, yM: number, sideM: number) => [
  { xM, yM },
  { xM: xM + sideM, yM },
  { xM: xM + sideM, yM: yM + sideM },
  { xM, yM: yM + sideM },
];
const cluttered = applyChanges(marked, addArea(marked, { id: 'racks', floorId: gallery.id, kind: 'clutter', polygon: square(2, 2, 8) }));
const design = applyChanges(cluttered, cutHole(cluttered, gallery.id, square(4, 4, 2), { table: 'zones', id: 'racks' }));
const records = floorRecords(design, gallery.id);
const nameOf = (id: string) => materialsOf(design)(id).name;

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'g', variantId: 'v', widthM: 40, heightM: 25 }),
);
const counted = () => {
  let n = 0;
  return () => `new-${++n}`;
};
/** A floor's contents without what only tells records apart. */
const bareContents = (of: Design, floorId: string) => {
  const strip = <T extends object>(list: readonly T[]) =>
    list.map((one) => JSON.stringify(Object.entries({ ...one, id: '', floorId: '', wallId: '' }).sort())).sort();
  const named = (id: string) => materialsOf(of)(id).name;
  return {
    // Over what it was laid is of its building.
    floor: { ...of.floors[floorId]!, id: '', registeredWorstM: null },
    walls: strip(onFloor(of, 'walls', floorId).map((wall) => ({ ...wall, materialId: named(wall.materialId) }))),
    openings: strip(openingsOf(of, floorId)),
    zones: strip(onFloor(of, 'zones', floorId)),
    slabOpenings: strip(onFloor(of, 'slabOpenings', floorId)),
  };
};

describe.each([
  ['GeoJSON', () => readFloor(writeFloor(records))],
  ['DXF', () => floorInDxf(writeDxf(records, nameOf))!],
])('a floor written as %s and read back', (_kind, back) => {
  test('is record by record what it was', () => expect(back()).toEqual(records));
  test('stands in another project as it stood, its own material beside it, and doors in their walls', () => {
    const brought = applyChanges(bare, addFloorFrom(bare, back(), counted()));
    expect(bareContents(brought, 'new-1')).toEqual(bareContents(design, gallery.id));
    expect(brought.floors['new-1']!.registeredWorstM).toBeNull();
    for (const opening of openingsOf(brought, 'new-1')) expect(brought.walls[opening.wallId]!.floorId).toBe('new-1');
    expect(Object.values(brought.materials).map(({ name, measuredDb }) => [name, measuredDb])).toEqual([['Glass, double pane, own', { '5': 6.5 }]]);
  });
});

test('brought into its own project it comes on top, and its material is not doubled', () => {
  const twice = applyChanges(design, addFloorFrom(design, records, counted()));
  expect(Object.keys(twice.materials)).toEqual(['mine']);
  expect(twice.floors['new-1']!.elevationM).toBeCloseTo(8.7 + 3.4 + 0.2, 9);
});

test('the DXF is one that other programs draw: in metres, walls on a layer per material, y upward', () => {
  const { layers, mPerUnit } = readDxf(writeDxf(records, nameOf));
  expect(mPerUnit).toBe(1);
  const names = layers.map(({ name }) => name);
  for (const name of ['BRICK_0_5_M', 'GLASS_DOUBLE_PANE_OWN', 'OPENING_DOOR', 'OUTLINE', 'ZONE_KEEP_OUT', 'SLAB_OPENING'])
    expect(names).toContain(name);
  const outline = layers.find(({ name }) => name === 'OUTLINE')!;
  expect([...outline.spots]).toEqual([0, 0, 72, 0, 72, -38, 0, -38, 0, 0]);
});

test('the GeoJSON says what its coordinates are, and holds each wall as a line', () => {
  const file = JSON.parse(writeFloor(records)) as { upperRoom: object; features: Array<{ id: string; geometry: unknown; properties: object }> };
  expect(file.upperRoom).toEqual({ version: 5, coordinates: 'metres on the floor, x to the right, y down the plan' });
  const wall = file.features.find(({ id }) => id === firstWall!.id)!;
  expect(wall.geometry).toEqual({
    type: 'LineString',
    coordinates: [
      [firstWall!.axM, firstWall!.ayM],
      [firstWall!.bxM, firstWall!.byM],
    ],
  });
  expect(wall.properties).toMatchObject({ table: 'walls', materialId: 'mine', baseM: 0, topM: 4.5 });
});

test('areas with holes are polygons with several rings', () => {
  const file = JSON.parse(writeFloor(records)) as { features: Array<{ id: string; geometry: { coordinates: unknown[] } }> };
  expect(file.features.find(({ id }) => id === 'racks')!.geometry.coordinates).toHaveLength(2);
  expect(records.zones.find(({ id }) => id === 'racks')).toMatchObject({ holes: [square(4, 4, 2)], clutter: { topM: 2 } });
});

const broken = (
  change: (file: {
    upperRoom: { version: number; coordinates: string };
    features: Array<{ id: string; properties: Record<string, unknown> }>;
  }) => void,
) => {
  const file = JSON.parse(writeFloor(records)) as Parameters<typeof change>[0];
  change(file);
  return JSON.stringify(file);
};
test('a file of before there were holes and clutter is read', () => {
  const older = broken((file) => {
    file.upperRoom.version = 2;
    file.features = file.features.filter(({ id }) => id !== 'racks');
    for (const { properties } of file.features) {
      delete properties.clutter;
      delete properties.keepsOut;
    }
  });
  expect(readFloor(older).zones[0]).toMatchObject({ holes: [], clutter: null });
  expect(readFloor(older).slabOpenings[0]).toMatchObject({ holes: [] });
});

test('in a file of before keep-out zones said what they keep out, they keep access points out', () => {
  const older = broken((file) => {
    file.upperRoom.version = 3;
    for (const { properties } of file.features) delete properties.keepsOut;
  });
  expect(readFloor(older).zones.map(({ keepsOut }) => keepsOut)).toEqual(records.zones.map(() => 'access points'));
});

test.each([
  ['no JSON', '{"type":"FeatureCollection",', 'FLOOR_FILE_UNREADABLE', 'no JSON'],
  ['another GeoJSON', '{"type":"FeatureCollection","features":[]}', 'FLOOR_FILE_UNREADABLE', 'upperRoom'],
  ['a newer file', broken((file) => (file.upperRoom.version = 6)), 'PROJECT_NEWER', ''],
  ['other coordinates', broken((file) => (file.upperRoom.coordinates = 'degrees')), 'FLOOR_FILE_UNREADABLE', 'coordinates'],
  ['an unknown table', broken((file) => (file.features.at(-1)!.properties.table = 'constructor')), 'FLOOR_FILE_UNREADABLE', 'constructor'],
  ['a value out of its limits', broken((file) => (file.features.at(-1)!.properties.name = '')), 'FLOOR_FILE_UNREADABLE', 'name'],
  [
    'no floor',
    broken((file) => (file.features = file.features.filter(({ properties }) => properties.table !== 'floors'))),
    'FLOOR_FILE_UNREADABLE',
    'one floor',
  ],
])('refused with what is wrong: %s', (_what, text, code, problem) => {
  expect(looksLikeFloor(text)).toBe(true);
  try {
    readFloor(text);
    throw new Error('it was read');
  } catch (error) {
    expect(error).toMatchObject({ code });
    expect(JSON.stringify((error as { details?: object }).details ?? {})).toContain(problem);
  }
});
