import { UNSAID } from '@/core/design/kinds/project';
import { expect, test } from '@jest/globals';
import { designSchema } from '@/contract/steps';
import { floorRecords, readFloor, writeFloor } from '@/contract/floorFile';
import { addArea } from './areaCommands';
import { edit, newProject, remove } from './commands';
import { EMPTY_DESIGN, levelsOf, onFloor, type Design } from './design';
import { addFloorFrom } from './floorCommands';
import { USUAL_LEVELS, addLevel, addUsualLevels } from './levelCommands';
import { readRecord } from './registry';
import { brokenReferences, factsOf, questionsOf } from './references';
import { applyChanges } from './step';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'f', variantId: 'v', widthM: 40, heightM: 25 }),
);
const square = [
  { xM: 0, yM: 0 },
  { xM: 10, yM: 0 },
  { xM: 10, yM: 10 },
];
const zoned: Design = (() => {
  const drawn = applyChanges(bare, addArea(bare, { id: 'z', floorId: 'f', kind: 'service', polygon: square }));
  return applyChanges(drawn, edit(drawn, 'zones', 'z', { serviceLevelId: 'level-voice', people: 12 }));
})();

test('a new project has the usual service levels, lawful ones, and what is missing can be had again', () => {
  expect(levelsOf(bare).map(({ name }) => name)).toEqual(['Data', 'Dense hall', 'Location', 'Voice']);
  expect(designSchema.parse(bare)).toEqual(bare);
  expect(addUsualLevels(bare)).toEqual([]);
  const fewer = applyChanges(bare, remove(bare, 'serviceLevels', ['level-data', 'level-dense']));
  expect(applyChanges(fewer, addUsualLevels(fewer)).serviceLevels).toEqual(bare.serviceLevels);
});

test('a level like another has a name of its own each time', () => {
  const one = applyChanges(bare, addLevel(bare, 'a', USUAL_LEVELS[1]!));
  const two = applyChanges(one, addLevel(one, 'b', USUAL_LEVELS[1]!));
  expect([two.serviceLevels.a, two.serviceLevels.b]).toEqual([
    { ...USUAL_LEVELS[1]!, id: 'a', name: 'Voice, own' },
    { ...USUAL_LEVELS[1]!, id: 'b', name: 'Voice, own 2' },
  ]);
});

test('a zone whose level is deleted stays, without one; a zone may have none, but not one that is not there', () => {
  const changes = remove(zoned, 'serviceLevels', ['level-voice']);
  const after = applyChanges(zoned, changes);
  expect(after.zones.z).toEqual({ ...zoned.zones.z!, serviceLevelId: null });
  expect(brokenReferences(changes, factsOf(zoned, questionsOf(changes)))).toEqual([]);
  const wrong = edit(zoned, 'zones', 'z', { serviceLevelId: 'gone' });
  expect(brokenReferences(wrong, factsOf(zoned, questionsOf(wrong)))).toMatchObject([{ id: 'z', field: 'serviceLevelId', missingId: 'gone' }]);
});

test('older records say nothing of levels, people, needs and clients', () => {
  expect(readRecord('zones', 1, { id: 'z', floorId: 'f', kind: 'service', name: 'Hall', polygon: square })).toMatchObject({
    serviceLevelId: null,
    people: null,
  });
  const old = { id: 'project', name: 'Old', units: 'us', domain: 'US', clientHeightM: 1, cellM: 0.5 };
  expect(readRecord('project', 1, old)).toEqual({ ...old, facility: '', needs: '', clientTypes: [], network: UNSAID, ownDomain: null });
});

test('a floor’s file takes its levels along; one that the project has is used; an older file is read', () => {
  const text = writeFloor(floorRecords(zoned, 'f'));
  const other = applyChanges(bare, remove(bare, 'serviceLevels', ['level-voice']));
  let count = 0;
  const read = (design: Design, file: string) => {
    const after = applyChanges(
      design,
      addFloorFrom(design, readFloor(file), () => `n${count++}`),
    );
    const zone = Object.values(after.zones)[0]!;
    return { after, zone, level: zone.serviceLevelId === null ? null : after.serviceLevels[zone.serviceLevelId] };
  };
  const brought = read(other, text);
  expect(brought.zone.people).toBe(12);
  expect(brought.level).toEqual({ ...USUAL_LEVELS[1]!, id: brought.zone.serviceLevelId });
  expect(Object.keys(read(bare, text).after.serviceLevels)).toHaveLength(4);
  const older = JSON.parse(text) as { upperRoom: { version: number }; features: Array<{ properties: Record<string, unknown> }> };
  older.upperRoom.version = 1;
  older.features = older.features.filter(({ properties }) => properties.table !== 'serviceLevels');
  for (const { properties } of older.features) {
    delete properties.serviceLevelId;
    delete properties.people;
  }
  expect(read(bare, JSON.stringify(older)).zone).toMatchObject({ serviceLevelId: null, people: null, name: onFloor(zoned, 'zones', 'f')[0]!.name });
});
