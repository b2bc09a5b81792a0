import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { museum } from '@demo/museum';
import {
  addAccessPoint,
  applySettings,
  changeModel,
  changeWidth,
  duplicateAccessPoints,
  edit,
  editRadios,
  moveAccessPoints,
  nextName,
  remove,
} from './commands';
import { addWall, moveWalls } from './wallCommands';
import { accessPointsOf, floorsOf, openingsOf, variantsOf, type AccessPoint, type Design } from './design';
import { EMPTY_HISTORY, historyOf } from './history';
import { idSchema } from './kinds/kind';
import { contestedPart, insistOn, mergeChanges } from './merge';
import { brokenReferences, factsOf, questionsOf } from './references';
import { kindOf, readRecord, TABLES, versionOf } from './registry';
import { additionsOf, applyChanges, changesBetween, invert, migrateChanges, recordAt, sameValue, type Change } from './step';
import { EMPTY_DESIGN } from './design';

const design = museum();
const floorId = floorsOf(design)[0]!.id;
const variantId = variantsOf(design).at(-1)!.id;
const aps = accessPointsOf(design, floorId, variantId);
const wallIds = Object.keys(design.walls);
const broken = (changes: readonly Change[], on: Design = design) => brokenReferences(changes, factsOf(on, questionsOf(changes)));

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
  fc.constantFrom(...wallIds).map((id) => (d: Design) => (id in d.walls ? moveWalls(d, [id], 'whole', 0.5, -0.25, 'none') : [])),
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
    expect(broken(changes)).toEqual([]);
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
  test('locked access points are not moved', () => {
    const locked = applyChanges(design, edit(design, 'accessPoints', aps[0]!.id, { locked: true }));
    expect(moveAccessPoints(locked, [aps[0]!.id], 1, 1)).toEqual([]);
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
    expect(() => moveWalls(design, [first.id], 'a', first.bxM - first.axM, first.byM - first.ayM, 'none')).toThrow(
      expect.objectContaining({ code: 'RECORD_INVALID' }),
    );
    expect(() => edit(design, 'walls', 'nowhere', {})).toThrow(expect.objectContaining({ code: 'RECORD_UNKNOWN' }));
  });
  test('a plan leaves locked radios alone and makes one change per access point', () => {
    const locked = applyChanges(design, editRadios(design, [aps[3]!.id], '2.4', { locked: true }));
    const changes = applySettings(
      locked,
      (['2.4', '5'] as const).map((band) => ({ apId: aps[3]!.id, band, on: true, channel: band === '5' ? 100 : 11, widthMhz: 20, txPowerDbm: 7 })),
    );
    expect(changes).toHaveLength(1);
    const { radios } = applyChanges(locked, changes).accessPoints[aps[3]!.id]!;
    expect(radios[0]).toEqual(locked.accessPoints[aps[3]!.id]!.radios[0]);
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

describe('making refused edits stand', () => {
  const ap = aps[0]!;
  const edited = { table: 'accessPoints', id: ap.id, before: ap, after: { ...ap, xM: 1, name: 'Mine' } } as Change;
  test('what the edit set wins, what it did not touch stays', () => {
    const theirs = applyChanges(design, edit(design, 'accessPoints', ap.id, { name: 'Theirs', yM: 7 }));
    expect(applyChanges(theirs, insistOn(theirs, [edited])).accessPoints[ap.id]).toEqual({ ...ap, xM: 1, name: 'Mine', yM: 7 });
    expect(insistOn(applyChanges(design, [edited]), [edited])).toEqual([]);
  });
  test('a deleted record comes back as the edit left it, and a deletion is made after all', () => {
    const without = applyChanges(design, remove(design, 'accessPoints', [ap.id]));
    expect(applyChanges(without, insistOn(without, [edited])).accessPoints[ap.id]).toEqual(edited.after);
    const deletion = { ...edited, after: null } as Change;
    const changed = applyChanges(design, edit(design, 'accessPoints', ap.id, { xM: 9 }));
    expect(applyChanges(changed, insistOn(changed, [deletion])).accessPoints[ap.id]).toBeUndefined();
  });
  test('of a step taken in part only what was contested is left to settle', () => {
    const conflicts = [{ table: 'accessPoints' as const, id: ap.id, field: 'name', yours: 'Mine', theirs: 'Theirs' }];
    expect(contestedPart([edited], conflicts)).toEqual([{ ...edited, after: { ...ap, name: 'Mine' } }]);
    expect(contestedPart([edited], [])).toEqual([]);
    expect(contestedPart([edited], [{ ...conflicts[0]!, field: null }])).toEqual([edited]);
  });
});

describe('the registry', () => {
  test('every table stands after those it points at, and points at tables that exist', () => {
    TABLES.forEach((table, i) => {
      for (const parent of Object.values(kindOf(table).parents)) expect(TABLES.slice(0, i)).toContain(parent);
    });
    expect(TABLES.filter((table) => kindOf(table).keepOne)).toEqual(['project', 'floors', 'variants']);
  });
  test('records of version 1 are brought to today, on their own and in steps', () => {
    const { locked: _locked, radios, ...rest } = aps[0]!;
    const v1 = { ...rest, pinned: true, radios: radios.map(({ locked: _radioLocked, ...radio }, i) => ({ ...radio, pinned: i === 0 })) };
    const today = { ...aps[0]!, locked: true, radios: radios.map((radio, i) => ({ ...radio, locked: i === 0 })) };
    expect(readRecord('accessPoints', 1, v1)).toEqual(today);
    expect(readRecord('accessPoints', versionOf('accessPoints'), today)).toEqual(today);
    const changes = [
      { table: 'accessPoints', id: rest.id, before: null, after: v1 },
      { table: 'sites', id: 'x', before: null, after: { id: 'x', seed: 4 } },
    ];
    expect(migrateChanges(changes, {})).toEqual([{ table: 'accessPoints', id: rest.id, before: null, after: today }]);
  });
  test('a record of a newer program, or one that is not what its kind says, is refused in words', () => {
    expect(() => readRecord('accessPoints', 99, {})).toThrow(expect.objectContaining({ code: 'PROJECT_NEWER' }));
    expect(() => readRecord('accessPoints', 1, { id: 'x' })).toThrow(expect.objectContaining({ code: 'RECORD_UNREADABLE' }));
    expect(() => readRecord('walls', 1, { id: 'x', axM: 'west' })).toThrow(
      expect.objectContaining({ code: 'RECORD_UNREADABLE', details: expect.objectContaining({ table: 'walls', id: 'x' }) }),
    );
  });
  test.each(['constructor', '__proto__', 'toString', 'hasOwnProperty'])('the name %s is no record and no id', (name) => {
    expect(idSchema.safeParse(name).success).toBe(false);
    expect(recordAt(design, 'floors', name)).toBeNull();
    const hung = { ...aps[0]!, id: 'new', floorId: name } as AccessPoint;
    expect(broken([{ table: 'accessPoints', id: 'new', before: null, after: hung }])).toEqual([
      { table: 'accessPoints', id: 'new', field: 'floorId', missingId: name },
    ]);
    expect(() => edit(design, 'accessPoints', name, { xM: 1 })).toThrow(expect.objectContaining({ code: 'RECORD_UNKNOWN' }));
  });
  test('a floor goes with all that lies on it, but not the last one', () => {
    const second = { ...floorsOf(design)[0]!, id: 'loft', elevationM: 4 };
    const two = applyChanges(design, [{ table: 'floors', id: 'loft', before: null, after: second }]);
    const changes = remove(two, 'floors', [floorId]);
    const after = applyChanges(two, changes);
    expect(broken(changes, two)).toEqual([]);
    for (const table of ['walls', 'zones', 'accessPoints', 'slabOpenings'] as const)
      expect(Object.values(after[table]).filter((record) => record.floorId === floorId)).toEqual([]);
    const orphans = Object.values(after.openings).filter((opening) => !Object.hasOwn(after.walls, opening.wallId));
    expect([orphans, Object.keys(after.openings).length]).toEqual([[], Object.keys(two.openings).length - openingsOf(two, floorId).length]);
    expect(Object.keys(after.floors)).not.toContain(floorId);
    expect(sameValue(applyChanges(after, invert(changes)), two)).toBe(true);
    expect(() => remove(design, 'floors', Object.keys(design.floors))).toThrow(expect.objectContaining({ code: 'LAST_OF_KIND' }));
    expect(() =>
      remove(
        design,
        'variants',
        variantsOf(design).map((variant) => variant.id),
      ),
    ).toThrow(expect.objectContaining({ code: 'LAST_OF_KIND' }));
    const bare = { ...design.floors[floorId]! };
    const forced = [{ table: 'floors', id: floorId, before: bare, after: null }] as Change[];
    const only = { ...design, floors: { [floorId]: bare } };
    expect([...new Set(broken(forced, only).map(({ table }) => table))]).toEqual(
      expect.arrayContaining(['walls', 'zones', 'accessPoints', 'floors']),
    );
  });
  test('a record moved away from a floor that goes does not hold it', () => {
    const ap = aps[0]!;
    const lofty = { ...floorsOf(design)[0]!, id: 'loft' };
    const two = applyChanges({ ...design, walls: {}, openings: {}, zones: {}, accessPoints: { [ap.id]: ap } }, [
      { table: 'floors', id: 'loft', before: null, after: lofty },
    ]);
    const move = { table: 'accessPoints', id: ap.id, before: ap, after: { ...ap, floorId: 'loft' } } as Change;
    const gone = { table: 'floors', id: floorId, before: two.floors[floorId]!, after: null } as Change;
    expect(broken([move, gone], two)).toEqual([]);
    expect(broken([gone], two)).toEqual([{ table: 'accessPoints', id: ap.id, field: 'floorId', missingId: floorId }]);
  });
  test('going back is the net of what came since', () => {
    const there = applyChanges(design, edit(design, 'accessPoints', aps[0]!.id, { xM: 1 }));
    const again = edit(there, 'accessPoints', aps[0]!.id, { xM: aps[0]!.xM });
    const gone = remove(there, 'accessPoints', [aps[1]!.id]);
    const now = applyChanges(there, [...again, ...gone]);
    const net = changesBetween(now, design, [...again, ...gone]);
    expect(net.map(({ id }) => id)).toEqual([aps[1]!.id]);
    expect(sameValue(applyChanges(now, net), design)).toBe(true);
  });
});

describe('history', () => {
  const line = (id: string, kind: 'do' | 'undo' | 'redo', ofStepId: string | null = null, author: string | null = 'me') => ({
    id,
    kind,
    ofStepId,
    author,
  });
  const of = (lines: ReadonlyArray<ReturnType<typeof line>>) => historyOf(lines, 'me');
  const log = [line('a', 'do'), line('b', 'do'), line('u1', 'undo', 'b'), line('u2', 'undo', 'a'), line('r1', 'redo', 'a')];
  test('follows the log: undo moves a step over, redo brings it back, a new step ends redo', () => {
    expect(of(log)).toEqual({ undo: ['a'], redo: ['b'] });
    expect(of([...log, line('c', 'do')])).toEqual({ undo: ['a', 'c'], redo: [] });
  });
  test("takes back one's own steps: those of others are passed over and end no redo", () => {
    expect(of([...log, line('c', 'do', null, 'somebody')])).toEqual({ undo: ['a'], redo: ['b'] });
    expect(of([line('old', 'do', null, null), line('x', 'do', null, 'somebody')])).toEqual({ undo: ['old'], redo: [] });
    expect(of([...log, line('ux', 'undo', 'a', 'somebody')])).toEqual(of(log));
    expect(of([])).toEqual(EMPTY_HISTORY);
  });
});
