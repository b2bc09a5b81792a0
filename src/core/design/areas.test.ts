import { describe, expect, test } from '@jest/globals';
import { regionAreaM2 } from '../geometry/polygon';
import { USUAL_CLUTTER, addArea, addCorner, areaRound, cutHole, fillHole, moveArea, removeCorner, setZoneKind } from './areaCommands';
import { edit, newProject } from './commands';
import { addLevel } from './levelCommands';
import { keptOutOn, levelsOwedAt } from './service';
import { EMPTY_DESIGN } from './design';
import { kindOf } from './registry';
import { applyChanges } from './step';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'g', variantId: 'v', widthM: 40, heightM: 25 }),
);
const p = (xM: number, yM: number) => ({ xM, yM });

describe('areas', () => {
  const ring = [p(0, 0), p(6, 0), p(6, 4), p(0, 4)];
  const drawn = applyChanges(bare, addArea(bare, { id: 'z', floorId: 'g', kind: 'service', polygon: ring }));
  test('are zones, openings of the slab, or the outline', () => {
    expect(drawn.zones.z).toMatchObject({ kind: 'service', name: 'Service 1', polygon: ring });
    const more = applyChanges(drawn, addArea(drawn, { id: 'h', floorId: 'g', kind: 'slab opening', polygon: ring }));
    expect(more.slabOpenings.h).toMatchObject({ name: 'Opening 1', floorId: 'g' });
    expect(applyChanges(drawn, addArea(drawn, { id: 'x', floorId: 'g', kind: 'outline', polygon: ring })).floors.g!.outline).toEqual(ring);
  });
  test('a keep-out zone keeps access points out, service, or both; its kind decides whether it counts', () => {
    const keeping = (keepsOut: 'access points' | 'service' | 'both', kind: 'keep-out' | 'room' = 'keep-out') => {
      const made = applyChanges(drawn, addArea(drawn, { id: 'k', floorId: 'g', kind, polygon: [p(1, 1), p(3, 1), p(3, 3), p(1, 3)] }));
      const set = applyChanges(made, edit(made, 'zones', 'k', { keepsOut }));
      const levelled = applyChanges(set, addLevel(set, 'voice'));
      return applyChanges(levelled, edit(levelled, 'zones', 'z', { serviceLevelId: 'voice' }));
    };
    const kept = (of: typeof bare) => (['access points', 'service'] as const).map((what) => keptOutOn(of, 'g', what).map(({ id }) => id));
    expect(applyChanges(drawn, addArea(drawn, { id: 'k', floorId: 'g', kind: 'keep-out', polygon: ring })).zones.k!.keepsOut).toBe('access points');
    expect(kept(keeping('access points'))).toEqual([['k'], []]);
    expect(kept(keeping('service'))).toEqual([[], ['k']]);
    expect(kept(keeping('both'))).toEqual([['k'], ['k']]);
    expect(kept(keeping('both', 'room'))).toEqual([[], []]);
    const owed = (of: typeof bare, xM: number, yM: number) => levelsOwedAt(of, 'g', p(xM, yM)).length;
    expect([
      owed(keeping('service'), 2, 2),
      owed(keeping('service'), 5, 2),
      owed(keeping('access points'), 2, 2),
      owed(keeping('both'), 9, 2),
    ]).toEqual([0, 1, 1, 0]);
  });
  test('one that crosses itself is refused, drawn or dragged', () => {
    const crossed = [p(0, 0), p(6, 4), p(6, 0), p(0, 4)];
    expect(() => addArea(bare, { id: 'z', floorId: 'g', kind: 'room', polygon: crossed })).toThrow(expect.objectContaining({ code: 'AREA_CROSSED' }));
    expect(() => moveArea(drawn, { table: 'zones', id: 'z' }, 0, 8, 2)).toThrow(expect.objectContaining({ code: 'AREA_CROSSED' }));
  });
  test('a corner, or all of it, is moved; corners come and go', () => {
    expect(applyChanges(drawn, moveArea(drawn, { table: 'zones', id: 'z' }, 2, 1, 1)).zones.z!.polygon).toEqual([p(0, 0), p(6, 0), p(7, 5), p(0, 4)]);
    expect(applyChanges(drawn, moveArea(drawn, { table: 'zones', id: 'z' }, null, 1, 1)).zones.z!.polygon[0]).toEqual(p(1, 1));
    const five = applyChanges(drawn, addCorner(drawn, { table: 'zones', id: 'z' }));
    expect(five.zones.z!.polygon).toEqual([p(0, 0), p(3, 0), p(6, 0), p(6, 4), p(0, 4)]);
    expect(applyChanges(five, removeCorner(five, { table: 'zones', id: 'z' }, 1))).toEqual(drawn);
    const three = applyChanges(drawn, removeCorner(drawn, { table: 'zones', id: 'z' }, 3));
    expect(() => removeCorner(three, { table: 'zones', id: 'z' }, 0)).toThrow(expect.objectContaining({ code: 'LAST_OF_KIND' }));
  });
  const hole = [p(1, 1), p(2, 1), p(2, 2)];
  const z = { table: 'zones', id: 'z' } as const;
  test('a hole is cut where it lies in an area, moved corner by corner, and filled', () => {
    const holed = applyChanges(drawn, cutHole(drawn, 'g', hole, null));
    expect(holed.zones.z).toMatchObject({ polygon: ring, holes: [hole] });
    expect(regionAreaM2(holed.zones.z!)).toBeCloseTo(23.5, 9);
    // Corners are counted on from the outer ring.
    const moved = applyChanges(holed, moveArea(holed, z, 5, 0.5, -0.5)).zones.z!;
    expect([moved.polygon, moved.holes]).toEqual([ring, [[p(1, 1), p(2.5, 0.5), p(2, 2)]]]);
    const all = applyChanges(holed, moveArea(holed, z, null, 1, 2)).zones.z!;
    expect([all.polygon[0], all.holes[0]![0]]).toEqual([p(1, 2), p(2, 3)]);
    expect(applyChanges(holed, fillHole(holed, z, 0))).toEqual(drawn);
    expect(() => moveArea(holed, z, 4, -3, 0)).toThrow(expect.objectContaining({ code: 'AREA_CROSSED' }));
  });
  test('a hole that lies in no area is refused, and it goes into the area that is picked, else into the smallest', () => {
    expect(() => cutHole(drawn, 'g', [p(5, 3), p(7, 3), p(7, 5)], null)).toThrow(expect.objectContaining({ code: 'NO_AREA_HERE' }));
    const two = applyChanges(drawn, addArea(drawn, { id: 'small', floorId: 'g', kind: 'slab opening', polygon: [p(0, 0), p(3, 0), p(3, 3)] }));
    const inBoth = [p(1.2, 0.2), p(2, 0.2), p(2, 0.6)];
    expect(areaRound(two, 'g', inBoth, null)).toEqual({ table: 'slabOpenings', id: 'small' });
    expect(areaRound(two, 'g', inBoth, z)).toEqual(z);
    expect(areaRound(two, 'one', inBoth, z)).toBeNull();
  });
  test('clutter begins with a height and losses, and keeps its own', () => {
    const racks = applyChanges(drawn, setZoneKind(drawn, 'z', 'clutter'));
    expect(racks.zones.z).toMatchObject({ kind: 'clutter', clutter: USUAL_CLUTTER });
    const own = applyChanges(racks, edit(racks, 'zones', 'z', { clutter: { ...USUAL_CLUTTER, topM: 3 } }));
    const away = applyChanges(own, setZoneKind(own, 'z', 'room'));
    expect(applyChanges(away, setZoneKind(away, 'z', 'clutter')).zones.z!.clutter!.topM).toBe(3);
    expect(kindOf('zones').schema.safeParse({ ...drawn.zones.z, kind: 'clutter' }).success).toBe(false);
  });
});
