import { expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { addAccessPoint, edit, newProject, remove } from './commands';
import { EMPTY_DESIGN, accessPointsOf, variantsOf } from './design';
import { applyChanges, invert } from './step';
import { duplicateVariant } from './variantCommands';

const counted = () => {
  let n = 0;
  return () => `new-${++n}`;
};

test('a copy of a variant comes last, with all its access points on every floor under their own names, and undo takes it away', () => {
  const design = museum();
  const [asFound, proposed] = variantsOf(design);
  const changes = duplicateVariant(design, proposed!.id, counted());
  const next = applyChanges(design, changes);
  const copy = variantsOf(next).at(-1)!;
  expect(copy).toEqual({ id: 'new-1', name: 'Proposed, copy', order: 2, retune: null });
  const hung = (variantId: string) =>
    Object.values(next.accessPoints)
      .filter((ap) => ap.variantId === variantId)
      .map(({ id: _id, variantId: _variant, ...ap }) => ap)
      .sort((a, b) => a.name.localeCompare(b.name));
  expect(hung('new-1').length).toBeGreaterThan(20);
  expect(new Set(hung('new-1').map(({ floorId }) => floorId)).size).toBe(3);
  expect(hung('new-1')).toEqual(hung(proposed!.id));
  expect(hung(asFound!.id)).toHaveLength(Object.values(design.accessPoints).filter((ap) => ap.variantId === asFound!.id).length);
  // No walk is copied, nothing else is touched.
  expect(new Set(changes.map(({ table }) => table))).toEqual(new Set(['variants', 'accessPoints']));
  expect(applyChanges(next, invert(changes))).toEqual(design);
  // What is changed on the copy changes nothing on the original.
  const [first] = accessPointsOf(next, Object.keys(next.floors)[0]!, 'new-1');
  const moved = applyChanges(next, edit(next, 'accessPoints', first!.id, { xM: 1.5 }));
  expect(accessPointsOf(moved, first!.floorId, proposed!.id)).toEqual(accessPointsOf(design, first!.floorId, proposed!.id));
});

test('copies of copies have names of their own, also where the name fills its room; the last variant cannot be deleted', () => {
  const head = { name: 'A', units: 'metric', domain: 'EU', floorId: 'f', variantId: 'v', widthM: 10, heightM: 8 } as const;
  let design = applyChanges(EMPTY_DESIGN, newProject(head));
  design = applyChanges(design, edit(design, 'variants', 'v', { name: 'x'.repeat(120) }));
  design = applyChanges(design, addAccessPoint(design, { id: 'a', floorId: 'f', variantId: 'v', modelId: 'dunlin-c2', xM: 1, yM: 1 }));
  for (const prefix of ['p', 'q', 'r']) {
    let n = 0;
    design = applyChanges(
      design,
      duplicateVariant(design, 'v', () => `${prefix}${++n}`),
    );
  }
  const names = variantsOf(design).map(({ name }) => name);
  expect(new Set(names).size).toBe(4);
  expect(Math.max(...names.map((name) => name.length))).toBe(120);
  expect(() => duplicateVariant(design, 'gone', counted())).toThrow(expect.objectContaining({ code: 'RECORD_UNKNOWN' }));
  design = applyChanges(design, remove(design, 'variants', ['p1', 'q1', 'r1']));
  expect(Object.keys(design.accessPoints)).toEqual(['a']);
  expect(() => remove(design, 'variants', ['v'])).toThrow();
});
