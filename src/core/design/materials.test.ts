import { expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { lossDbOf, materialLossDb, MATERIALS } from '../building/material';
import { panesOf } from '../building/panes';
import { edit, remove } from './commands';
import { materialsOf, onFloor, openingsOf } from './design';
import { addFloor } from './floorCommands';
import { addMaterial, editMaterial, usesOf } from './materialCommands';
import { brokenReferences, factsOf, questionsOf } from './references';
import { KINDS } from './registry';
import { applyChanges, type Change } from './step';

const design = cottage();
const own = applyChanges(design, addMaterial(design, 'mine', 'brick'));
const broken = (changes: readonly Change[], on = own) => brokenReferences(changes, factsOf(on, questionsOf(changes)));
const walled = applyChanges(own, edit(own, 'walls', 'cottage-wall-001', { materialId: 'mine' }));

test('every material of the catalogue can be copied and kept', () => {
  for (const { id, layers } of MATERIALS.filter((material) => material.layers.length > 0)) {
    const copied = applyChanges(design, addMaterial(design, 'copy', id));
    expect(KINDS.materials.schema.parse(copied.materials.copy)).toMatchObject({ layers });
  }
});

test('an own material begins like another, and what is made of it changes with it', () => {
  expect(own.materials.mine).toMatchObject({ name: 'Brick, 0.25 m, own', pattern: 'heavy', layers: [{ substanceId: 'brick', thicknessM: 0.25 }] });
  const floorId = 'cottage-floor-001';
  const loss = (of: typeof design) =>
    panesOf(onFloor(of, 'walls', floorId).slice(0, 1), openingsOf(of, floorId), 0, materialsOf(of)).lossUnits[1]! * 0.05;
  expect(loss(walled)).toBeCloseTo(materialLossDb('brick', '5'), 9);
  const measured = applyChanges(walled, editMaterial(walled, 'mine', { measuredDb: { '5': 9 } }));
  expect(loss(measured)).toBeCloseTo(9, 9);
  expect(lossDbOf(materialsOf(measured)('mine'), '2.4')).toBe(materialLossDb('brick', '2.4'));
  expect([usesOf(walled, 'mine'), usesOf(own, 'mine')]).toEqual([1, 0]);
});

test('a wall may be of the catalogue or of a material that is there, and of nothing else', () => {
  const wall = own.walls['cottage-wall-001']!;
  const of = (materialId: string) => [{ table: 'walls', id: wall.id, before: wall, after: { ...wall, materialId } }] as Change[];
  expect([broken(of('glass')), broken(of('mine'))]).toEqual([[], []]);
  expect(broken(of('velvet'))).toEqual([{ table: 'walls', id: wall.id, field: 'materialId', missingId: 'velvet' }]);
});

test('a wall whose material is gone for a moment is taken as plasterboard and says so', () => {
  const orphaned = { ...walled, materials: {} };
  for (const id of ['mine', 'constructor']) {
    const standIn = materialsOf(orphaned)(id);
    expect(standIn.name).toMatch(/gone, taken as Plasterboard/);
    expect(lossDbOf(standIn, '5')).toBe(materialLossDb('plasterboard', '5'));
    expect(materialsOf(orphaned)(id)).toBe(standIn);
  }
});

test('deleted, its walls are of another; taken away without that, they would hold it', () => {
  const changes = remove(walled, 'materials', ['mine']);
  expect(broken(changes, walled)).toEqual([]);
  const after = applyChanges(walled, changes);
  expect([after.walls['cottage-wall-001']!.materialId, after.materials]).toEqual(['plasterboard', {}]);
  expect(broken([{ table: 'materials', id: 'mine', before: walled.materials.mine!, after: null }], walled)).toHaveLength(1);
  // A floor that goes takes its walls along, of whatever material, each once.
  const twoFloors = applyChanges(walled, addFloor(walled, 'loft'));
  const floorGone = remove(twoFloors, 'floors', ['cottage-floor-001']);
  expect(new Set(floorGone.map(({ table, id }) => `${table}/${id}`)).size).toBe(floorGone.length);
  expect(applyChanges(twoFloors, floorGone).walls).toEqual({});
});

test.each([
  ['an id of the catalogue', { id: 'brick' }],
  ['no layer', { layers: [] }],
  ['a layer without thickness', { layers: [{ substanceId: 'brick', thicknessM: 0 }] }],
  ['a substance that is none', { layers: [{ substanceId: 'velvet', thicknessM: 0.1 }] }],
  ['a loss beyond what is ever seen', { measuredDb: { '5': 41 } }],
  ['a band that is none', { measuredDb: { '60': 4 } }],
])('refused: %s', (_what, fields) => {
  const { schema } = KINDS.materials;
  expect(schema.safeParse(own.materials.mine).success).toBe(true);
  expect(schema.safeParse({ ...own.materials.mine, ...fields }).success).toBe(false);
});
