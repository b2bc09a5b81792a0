import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { museum } from '@demo/museum';
import {
  addAccessPoint,
  addWall,
  applySettings,
  changeModel,
  changeWidth,
  duplicateAccessPoints,
  edit,
  editRadios,
  moveAccessPoints,
  moveWall,
  nextName,
  remove,
} from './commands';
import { accessPointsOf, floorsOf, openingsOf, variantsOf, type Design } from './design';
import { EMPTY_HISTORY, recordStep } from './history';
import { mergeChanges } from './merge';
import { brokenReferences } from './references';
import { additionsOf, applyChanges, invert, sameValue, type Change } from './step';
import { EMPTY_DESIGN } from './design';

const design = museum();
const floorId = floorsOf(design)[0]!.id;
const variantId = variantsOf(design).at(-1)!.id;
const aps = accessPointsOf(design, floorId, variantId);
const wallIds = Object.keys(design.walls);

/** Any of the commands with any arguments that suit the design. */
const anyCommand: fc.Arbitrary<(d: Design) => Change[]> = fc.oneof(
  fc
    .tuple(
      fc.subarray(
        aps.map((ap) => ap.id),
        { minLength: 1 },
      ),
      fc.double({ min: -5, max: 5, noNaN: true }),
      fc.double({ min: -5, max: 5, noNaN: true }),
    )
    .map(
      ([ids, dx, dy]) =>
        (d: Design) =>
          moveAccessPoints(
            d,
            ids.filter((id) => id in d.accessPoints),
            dx,
            dy,
          ),
    ),
  fc.constantFrom(...wallIds).map((id) => (d: Design) => (id in d.walls ? remove(d, 'walls', [id]) : [])),
  fc.constantFrom(...aps).map((ap) => (d: Design) => (ap.id in d.accessPoints ? remove(d, 'accessPoints', [ap.id]) : [])),
  fc.tuple(fc.constantFrom(...aps), fc.integer({ min: 3, max: 20 })).map(
    ([ap, txPowerDbm]) =>
      (d: Design) =>
        ap.id in d.accessPoints ? editRadios(d, [ap.id], '5', { txPowerDbm }) : [],
  ),
  fc.tuple(fc.integer({ min: 1, max: 1e6 }), fc.double({ min: 0, max: 70, noNaN: true })).map(
    ([n, xM]) =>
      (d: Design) =>
        addAccessPoint(d, { id: `new-${n}`, floorId, variantId, modelId: 'wren-w2', xM, yM: 3 }),
  ),
  fc.constantFrom(...wallIds).map((id) => (d: Design) => (id in d.walls ? moveWall(d, id, 'whole', 0.5, -0.25) : [])),
);

describe('steps', () => {
  test('undo is the identity after any commands', () => {
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 12 }), (commands) => {
        let present = design;
        const done: Change[][] = [];
        for (const command of commands) {
          const changes = command(present);
          present = applyChanges(present, changes);
          done.push(changes);
        }
        for (const changes of done.reverse()) present = applyChanges(present, invert(changes));
        expect(sameValue(present, design)).toBe(true);
      }),
      { numRuns: 80, seed: 42 },
    );
  });
  test('commands leave no broken references, and what they do not touch stays the same object', () => {
    const changes = remove(design, 'walls', [wallIds[0]!]);
    const after = applyChanges(design, changes);
    expect(brokenReferences(after, changes)).toEqual([]);
    expect(openingsOf(after, floorId).length).toBeLessThan(openingsOf(design, floorId).length);
    expect(after.accessPoints).toBe(design.accessPoints);
  });
  test('additions build the whole design again', () => expect(sameValue(applyChanges(EMPTY_DESIGN, additionsOf(design)), design)).toBe(true));
});

describe('commands', () => {
  test('names go on with the next free number, and count as people do', () => {
    expect(nextName(design, floorId, variantId)).toBe('Q-11');
    expect(aps.map((ap) => ap.name)).toEqual(['Q-01', 'Q-02', 'Q-03', 'Q-04', 'Q-05', 'Q-06', 'Q-07', 'Q-08', 'Q-09', 'Q-10']);
  });
  test('duplicates get names and places of their own', () => {
    const after = applyChanges(design, duplicateAccessPoints(design, [aps[0]!.id, aps[1]!.id], ['n1', 'n2']));
    expect([after.accessPoints.n1!.name, after.accessPoints.n2!.name]).toEqual(['Q-11', 'Q-12']);
    expect(after.accessPoints.n1!.xM).toBe(aps[0]!.xM + 1);
  });
  test('pinned access points are not moved', () => {
    const pinned = applyChanges(design, edit(design, 'accessPoints', aps[0]!.id, { pinned: true }));
    expect(moveAccessPoints(pinned, [aps[0]!.id], 1, 1)).toEqual([]);
  });
  test('a new model keeps what it can and stays in its limits', () => {
    const louder = applyChanges(design, editRadios(design, [aps[0]!.id], '5', { txPowerDbm: 23, widthMhz: 160, channel: 36 }));
    const { radios } = applyChanges(louder, changeModel(louder, [aps[0]!.id], 'wren-w2')).accessPoints[aps[0]!.id]!;
    expect(radios.find((radio) => radio.band === '5')).toMatchObject({ txPowerDbm: 19, widthMhz: 20, channel: 36 });
    expect(
      applyChanges(louder, changeModel(louder, [aps[0]!.id], 'kittiwake-t6')).accessPoints[aps[0]!.id]!.radios.map((radio) => radio.band),
    ).toEqual(['2.4', '5', '6']);
  });
  test('a new width leaves each radio its own channel, but for one that does not exist at it', () => {
    const mixed = applyChanges(design, [
      ...editRadios(design, [aps[0]!.id], '5', { channel: 165, widthMhz: 20 }),
      ...editRadios(design, [aps[1]!.id], '5', { channel: 108, widthMhz: 20 }),
    ]);
    const wider = applyChanges(mixed, changeWidth(mixed, [aps[0]!.id, aps[1]!.id], '5', 40));
    const five = (id: string) => wider.accessPoints[id]!.radios.find((radio) => radio.band === '5')!;
    expect(five(aps[0]!.id)).toMatchObject({ channel: 36, widthMhz: 40 });
    expect(five(aps[1]!.id)).toMatchObject({ channel: 108, widthMhz: 40 });
    expect(wider.accessPoints[aps[0]!.id]!.radios[0]).toEqual(mixed.accessPoints[aps[0]!.id]!.radios[0]);
    expect(changeWidth(mixed, [aps[0]!.id], '2.4', 160)).toEqual([]);
  });
  test('walls without length are refused', () => {
    const wall = { id: 'w', floorId, axM: 1, ayM: 1, bxM: 1, byM: 1, materialId: 'brick' };
    expect(() => addWall(design, wall)).toThrow(expect.objectContaining({ code: 'RECORD_INVALID' }));
    const first = design.walls[wallIds[0]!]!;
    expect(() => moveWall(design, first.id, 'a', first.bxM - first.axM, first.byM - first.ayM)).toThrow(
      expect.objectContaining({ code: 'RECORD_INVALID' }),
    );
    expect(() => edit(design, 'walls', 'nowhere', {})).toThrow(expect.objectContaining({ code: 'RECORD_UNKNOWN' }));
  });
  test('a plan leaves pinned radios alone and makes one change per access point', () => {
    const pinned = applyChanges(design, editRadios(design, [aps[3]!.id], '2.4', { pinned: true }));
    const changes = applySettings(
      pinned,
      (['2.4', '5'] as const).map((band) => ({ apId: aps[3]!.id, band, on: true, channel: band === '5' ? 100 : 11, widthMhz: 20, txPowerDbm: 7 })),
    );
    expect(changes).toHaveLength(1);
    const { radios } = applyChanges(pinned, changes).accessPoints[aps[3]!.id]!;
    expect(radios[0]).toEqual(pinned.accessPoints[aps[3]!.id]!.radios[0]);
    expect(radios[1]).toMatchObject({ channel: 100, txPowerDbm: 7 });
  });
});

describe('merging', () => {
  const ap = aps[0]!;
  const change = (before: object, after: object | null): Change => ({ table: 'accessPoints', id: ap.id, before, after }) as Change;
  test('on the same design the changes stand as they are', () =>
    expect(mergeChanges(design, [change(ap, { ...ap, xM: 1 })])).toEqual({ changes: [change(ap, { ...ap, xM: 1 })], conflicts: [] }));
  test('the same change twice is none', () => expect(mergeChanges(design, [change({ ...ap, xM: 9 }, ap)])).toEqual({ changes: [], conflicts: [] }));
  test('deleting what somebody changed is a conflict, so is changing what somebody deleted', () => {
    expect(mergeChanges(design, [change({ ...ap, xM: 9 }, null)]).conflicts).toHaveLength(1);
    expect(mergeChanges({ ...design, accessPoints: {} }, [change(ap, { ...ap, xM: 1 })]).conflicts).toEqual([
      { table: 'accessPoints', id: ap.id, field: null, yours: { ...ap, xM: 1 }, theirs: null },
    ]);
  });
  test('two changes of one record in one step build on each other', () => {
    const merged = mergeChanges(design, [change(ap, { ...ap, xM: 1 }), change({ ...ap, xM: 1 }, { ...ap, xM: 1, yM: 2 })]);
    expect(merged.conflicts).toEqual([]);
    expect(applyChanges(design, merged.changes).accessPoints[ap.id]).toMatchObject({ xM: 1, yM: 2 });
  });
});

test('history follows the log: undo moves a step over, redo brings it back, a new step ends redo', () => {
  const log = [
    { id: 'a', kind: 'do', ofStepId: null },
    { id: 'b', kind: 'do', ofStepId: null },
    { id: 'u1', kind: 'undo', ofStepId: 'b' },
    { id: 'u2', kind: 'undo', ofStepId: 'a' },
    { id: 'r1', kind: 'redo', ofStepId: 'a' },
  ] as const;
  const history = log.reduce(recordStep, EMPTY_HISTORY);
  expect(history).toEqual({ undo: ['a'], redo: ['b'] });
  expect(recordStep(history, { id: 'c', kind: 'do', ofStepId: null })).toEqual({ undo: ['a', 'c'], redo: [] });
});
