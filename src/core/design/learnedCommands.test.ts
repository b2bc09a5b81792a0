import { expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { lossDbOf } from '../building/material';
import { exponentOf, floorsOf, materialsOf, onFloor, openingsOf, type Design } from './design';
import { takeLearned, type Taken } from './learnedCommands';
import { readRecord } from './registry';
import { applyChanges } from './step';

const design = museum();
const [quay, gallery] = floorsOf(design);
let made = 0;
const newId = () => `made-${++made}`;
const taken = (of: Design, fields: Partial<Taken>, floorId = quay!.id) =>
  applyChanges(of, takeLearned(of, floorId, '5', { exponentBy: null, materials: [], walls: [], ...fields }, newId));
const lossOf = (of: Design, materialId: string, band: '2.4' | '5' = '5') => lossDbOf(materialsOf(of)(materialId), band);

test('a material of the catalogue becomes one of our own on this floor alone, with what was measured in this band', () => {
  const before = lossOf(design, 'brick');
  const after = taken(design, { materials: [{ materialId: 'brick', byDb: -3.2 }] });
  const was = onFloor(design, 'walls', quay!.id).filter(({ materialId }) => materialId === 'brick');
  expect(was.length).toBeGreaterThan(3);
  const ids = new Set(was.map(({ id }) => after.walls[id]!.materialId));
  expect(ids.size).toBe(1);
  const [id] = ids;
  expect(after.materials[id!]).toMatchObject({ name: 'Brick, 0.25 m, measured', measuredDb: { '5': Math.round((before - 3.2) * 100) / 100 } });
  expect(lossOf(after, id!, '2.4')).toBe(lossOf(design, 'brick', '2.4'));
  // What was of something else, or hangs on another floor, is as it was.
  for (const wall of Object.values(design.walls)) if (!was.some((one) => one.id === wall.id)) expect(after.walls[wall.id]).toBe(wall);
  // Learned again, it is the same own material that changes.
  const again = taken(after, { materials: [{ materialId: id!, byDb: 1 }] });
  expect(Object.keys(again.materials)).toEqual(Object.keys(after.materials));
  expect(again.materials[id!]!.measuredDb['5']).toBeCloseTo(after.materials[id!]!.measuredDb['5']! + 1, 6);
});

test('an own material that other floors have too is left to them', () => {
  const own = taken(design, { materials: [{ materialId: 'brick', byDb: 1 }] });
  const id = Object.keys(own.materials).find((one) => !Object.hasOwn(design.materials, one))!;
  const other = onFloor(own, 'walls', gallery!.id)[0]!;
  const shared = { ...own, walls: { ...own.walls, [other.id]: { ...other, materialId: id } } };
  const after = taken(shared, { materials: [{ materialId: id, byDb: 2 }] });
  expect(after.materials[id]).toBe(shared.materials[id]);
  expect(after.walls[other.id]!.materialId).toBe(id);
  expect(onFloor(after, 'walls', quay!.id).some(({ materialId }) => materialId === id)).toBe(false);
  // As is one that a slab is of.
  const slab = { ...own, floors: { ...own.floors, [gallery!.id]: { ...gallery!, slabMaterialId: id } } };
  expect(taken(slab, { materials: [{ materialId: id, byDb: 2 }] }).materials[id]).toBe(slab.materials[id]);
  // No record changes twice in the step.
  const step = takeLearned(
    design,
    quay!.id,
    '5',
    {
      exponentBy: 0.1,
      materials: [
        { materialId: 'brick', byDb: 1 },
        { materialId: 'glass', byDb: 1 },
      ],
      walls: [],
    },
    newId,
  );
  expect(new Set(step.map(({ table, id: of }) => `${table}/${of}`)).size).toBe(step.length);
});

test('a single wall differs on top of its material; what leaves is never less than nothing nor more than can be seen', () => {
  const wall = onFloor(design, 'walls', quay!.id).find(({ materialId }) => materialId === 'brick')!;
  const brick = lossOf(design, 'brick');
  const after = taken(design, { materials: [{ materialId: 'brick', byDb: -1 }], walls: [{ wallId: wall.id, materialId: 'brick', byDb: 5 }] });
  expect(lossOf(after, after.walls[wall.id]!.materialId)).toBeCloseTo(brick + 4, 1);
  const another = onFloor(design, 'walls', quay!.id).find(({ id, materialId }) => materialId === 'brick' && id !== wall.id)!;
  expect(lossOf(after, after.walls[another.id]!.materialId)).toBeCloseTo(brick - 1, 1);
  const extreme = taken(design, {
    materials: [
      { materialId: 'brick', byDb: -99 },
      { materialId: 'glass', byDb: 99 },
    ],
  });
  expect(lossOf(extreme, extreme.walls[wall.id]!.materialId)).toBe(0);
  expect(Object.values(extreme.materials).map(({ measuredDb }) => measuredDb['5'])).toContain(40);
});

test('what in a wall is of another material is its openings: they change, the wall does not', () => {
  const opening = openingsOf(design, quay!.id).find((one) => design.walls[one.wallId]!.materialId !== one.materialId && one.materialId !== 'open')!;
  const after = taken(design, { walls: [{ wallId: opening.wallId, materialId: opening.materialId, byDb: 3 }] });
  expect(after.walls[opening.wallId]).toBe(design.walls[opening.wallId]);
  expect(lossOf(after, after.openings[opening.id]!.materialId)).toBeCloseTo(lossOf(design, opening.materialId) + 3, 1);
  // What is gone meanwhile is passed over.
  expect(
    takeLearned(design, quay!.id, '5', { exponentBy: null, materials: [], walls: [{ wallId: 'constructor', materialId: 'brick', byDb: 3 }] }, newId),
  ).toEqual([]);
});

test('the exponent is the floor’s own, within its limits; an older floor has that of its character', () => {
  const after = taken(design, { exponentBy: 0.314 });
  expect(exponentOf(quay!)).toBe(2.2);
  expect(exponentOf(after.floors[quay!.id]!)).toBe(2.51);
  expect(exponentOf(taken(design, { exponentBy: 99 }).floors[quay!.id]!)).toBe(6);
  const { exponent: _exponent, ...before } = quay!;
  expect(readRecord('floors', 3, before)).toEqual(quay);
});
