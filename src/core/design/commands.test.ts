import { describe, expect, test } from '@jest/globals';
import { DEFAULT_RULES } from '../planning/problem';
import type { Band } from '../radio/band';
import { AP_MODELS, modelOf, radioModelOf } from '../radio/catalogue';
import type { DomainId } from '../radio/regulation';
import {
  addAccessPoint,
  changeModel,
  changeWidth,
  defaultRadios,
  duplicateAccessPoints,
  edit,
  editRadios,
  moveAccessPoints,
  newProject,
  nextName,
  remove,
  shiftPower,
} from './commands';
import { addWall, moveWalls } from './wallCommands';
import { accessPointsOf, domainOf, floorsOf, onFloor, openingsOf, variantsOf, type AccessPoint, type Design } from './design';
import { breachesOf, notLawful } from './lawful';
import { mergeChanges } from './merge';
import { EMPTY_DESIGN, KINDS, readRecord } from './registry';
import { applyChanges, newStep, sameValue, type Change } from './step';

const begun = newProject({ name: 'Shed', units: 'metric', domain: 'EU', floorId: 'ground', variantId: 'first', widthM: 20, heightM: 10 });
const design = applyChanges(EMPTY_DESIGN, begun);
const hang = (on: Design, id: string, fields: Partial<AccessPoint> = {}) =>
  applyChanges(on, addAccessPoint(on, { id, floorId: 'ground', variantId: 'first', modelId: 'dunlin-c2', xM: 3, yM: 4, ...fields }));

test('a new project: one floor of the given size, one variant, settings', () => {
  expect(design.floors.ground).toMatchObject({ elevationM: 0, ceilingM: 3, environment: 'rooms' });
  expect(design.floors.ground!.outline).toEqual([
    { xM: 0, yM: 0 },
    { xM: 20, yM: 0 },
    { xM: 20, yM: 10 },
    { xM: 0, yM: 10 },
  ]);
  expect(design.variants.first).toEqual({ id: 'first', name: 'First design', order: 0, retune: null });
  expect(design.project.project).toEqual({
    id: 'project',
    name: 'Shed',
    units: 'metric',
    domain: 'EU',
    clientHeightM: 1,
    cellM: 0.5,
    facility: '',
    needs: '',
    clientTypes: [],
    network: { ssids: null, basicMbps: { '2.4': null, '5': null, '6': null }, bandSteering: null, poeW: null },
    ownDomain: null,
  });
  // The project, its floor and variant, and the four usual service levels.
  expect(begun).toHaveLength(7);
});

describe('hanging', () => {
  test('radios come on, unlocked, at 20 MHz, off radar channels, at two thirds of their power and within the law', () => {
    for (const modelId of ['dunlin-c2', 'kittiwake-t6', 'wren-w2']) {
      for (const radio of defaultRadios(modelOf(modelId), 'EU')) {
        const limits = radioModelOf(modelOf(modelId), radio.band)!;
        const law = { '2.4': 20, '5': 23, '6': 23 }[radio.band];
        expect(radio).toMatchObject({ on: true, locked: false, widthMhz: 20, channel: { '2.4': 1, '5': 36, '6': 1 }[radio.band] });
        const wanted = Math.min(Math.round(limits.maxPowerDbm * 0.67), Math.floor(law - limits.antenna.peakDbi));
        expect(radio.txPowerDbm).toBe(Math.max(limits.minPowerDbm, wanted));
      }
    }
    expect(defaultRadios(modelOf('dunlin-c2'), 'US').find(({ band }) => band === '5')!.channel).toBe(36);
  });
  test('height follows the model but stays under the ceiling', () => {
    const { defaultHeightM } = modelOf('dunlin-c2');
    const low = applyChanges(design, edit(design, 'floors', 'ground', { ceilingM: 2 }));
    expect(hang(low, 'a').accessPoints.a!.heightM).toBeCloseTo(1.9, 9);
    const high = applyChanges(design, edit(design, 'floors', 'ground', { ceilingM: 40 }));
    expect(hang(high, 'a').accessPoints.a!.heightM).toBe(defaultHeightM);
  });
  test('names go on with the prefix of the floor in this variant; a bare floor begins with its own letter', () => {
    expect(nextName(design, 'ground', 'first')).toBe('G-01');
    const named = hang(hang(design, 'a', { name: 'Hall 7' }), 'b', { name: 'X-01', variantId: 'other' });
    expect(nextName(named, 'ground', 'first')).toBe('Hall-01');
    const two = applyChanges(named, [{ table: 'floors', id: 'loft', before: null, after: { ...design.floors.ground!, id: 'loft', name: 'loft' } }]);
    expect(nextName(two, 'loft', 'first')).toBe('L-01');
    expect(nextName(hang(design, 'a', { name: 'nameless' }), 'ground', 'first')).toBe('G-01');
  });
  test('moved by what it was dragged, each way; a copy hangs 1 m aside and is not locked', () => {
    const one = hang(design, 'a', { locked: true });
    expect(moveAccessPoints(one, ['a'], 1, 1)).toEqual([]);
    const free = hang(design, 'a');
    expect(applyChanges(free, moveAccessPoints(free, ['a'], 1.25, -0.5)).accessPoints.a).toMatchObject({ xM: 4.25, yM: 3.5 });
    const copied = applyChanges(one, duplicateAccessPoints(one, ['a'], ['b'])).accessPoints.b!;
    expect(copied).toMatchObject({ xM: 4, yM: 5, locked: false });
    expect(copied.name).not.toBe(one.accessPoints.a!.name);
  });
  test('another model keeps a width that it can do', () => {
    const [wide] = ['kittiwake-t6', 'heron-c4'].filter((id) => (radioModelOf(modelOf(id), '5')?.maxWidthMhz ?? 0) >= 80);
    const one = hang(design, 'a', { modelId: wide! });
    const set = applyChanges(
      one,
      edit(one, 'accessPoints', 'a', {
        radios: one.accessPoints.a!.radios.map((radio) => (radio.band === '5' ? { ...radio, widthMhz: 80 as const } : radio)),
      }),
    );
    const back = applyChanges(set, changeModel(set, ['a'], wide!)).accessPoints.a!;
    expect(back.radios.find(({ band }) => band === '5')!.widthMhz).toBe(80);
  });
});

describe('walls', () => {
  const wall = { id: 'w', floorId: 'ground', axM: 1, ayM: 1, bxM: 5, byM: 1, materialId: 'brick' };
  const drawn = applyChanges(design, addWall(design, wall));
  test('a wall stands from floor to ceiling; the shortest there may be is as long as the limit says', () => {
    expect(drawn.walls.w).toEqual({ ...wall, baseM: 0, topM: 3 });
    expect(addWall(design, { ...wall, bxM: 1.05 })).toHaveLength(1);
    expect(() => addWall(design, { ...wall, bxM: 1.049 })).toThrow(expect.objectContaining({ code: 'RECORD_INVALID' }));
  });
  test('moved whole or by one end, by what it was dragged', () => {
    const moved = (part: 'whole' | 'a' | 'b') => applyChanges(drawn, moveWalls(drawn, ['w'], part, 0.5, 2, 'none')).walls.w!;
    expect(moved('whole')).toMatchObject({ axM: 1.5, ayM: 3, bxM: 5.5, byM: 3 });
    expect(moved('a')).toMatchObject({ axM: 1.5, ayM: 3, bxM: 5, byM: 1 });
    expect(moved('b')).toMatchObject({ axM: 1, ayM: 1, bxM: 5.5, byM: 3 });
    expect(() => moveWalls(drawn, ['w'], 'b', -4, 0, 'none')).toThrow(expect.objectContaining({ code: 'RECORD_INVALID' }));
    expect(moveWalls(drawn, ['w'], 'b', -3.95, 0, 'none')).toHaveLength(1);
  });
  test('what its kind refuses: no length, top at the base, an opening without height', () => {
    const { schema } = KINDS.walls;
    const stored = drawn.walls.w!;
    expect(schema.safeParse(stored).success).toBe(true);
    expect(schema.safeParse({ ...stored, bxM: 1.04 }).error!.issues[0]).toMatchObject({ path: ['bxM'] });
    expect(schema.safeParse({ ...stored, bxM: 1, byM: 1.06 }).success).toBe(true);
    expect(schema.safeParse({ ...stored, topM: 0 }).error!.issues[0]).toMatchObject({ path: ['topM'] });
    const old = { id: 'o', wallId: 'w', kind: 'door', atM: 1, widthM: 0.9, sillM: 0, headM: 2, materialId: 'wood' };
    const opening = { ...old, hinge: 'a', swing: 'left' };
    expect(KINDS.openings.schema.safeParse(opening).success).toBe(true);
    expect(KINDS.openings.schema.safeParse({ ...opening, headM: 0 }).error!.issues[0]).toMatchObject({ path: ['headM'] });
    // Version 1 did not say how a door hangs.
    expect(readRecord('openings', 1, old)).toEqual(opening);
  });
});

test('what lies on a floor comes in order: records by id, access points as people count, floors from below, variants in theirs', () => {
  const floor = design.floors.ground!;
  const walls = ['b', 'a'].map((id) => ({ id, floorId: 'ground', axM: 0, ayM: 0, bxM: 1, byM: 0, baseM: 0, topM: 3, materialId: 'brick' }));
  const opening = (id: string, wallId: string) => ({
    id,
    wallId,
    kind: 'door' as const,
    atM: 0,
    widthM: 0.5,
    sillM: 0,
    headM: 2,
    materialId: 'wood',
    hinge: 'a' as const,
    swing: 'left' as const,
  });
  const full: Design = {
    ...design,
    floors: { top: { ...floor, id: 'top', elevationM: 4 }, ground: floor, cellar: { ...floor, id: 'cellar', elevationM: -3 } },
    variants: {
      z: { id: 'z', name: 'Z', order: 1, retune: null },
      b: { id: 'b', name: 'B', order: 0, retune: null },
      a: { id: 'a', name: 'A', order: 0, retune: null },
    },
    walls: Object.fromEntries([...walls, { ...walls[0]!, id: 'c', floorId: 'top' }].map((wall) => [wall.id, wall])),
    openings: Object.fromEntries([opening('q', 'b'), opening('p', 'a'), opening('r', 'c'), opening('s', 'gone')].map((one) => [one.id, one])),
  };
  expect(onFloor(full, 'walls', 'ground').map(({ id }) => id)).toEqual(['a', 'b']);
  expect(openingsOf(full, 'ground').map(({ id }) => id)).toEqual(['p', 'q']);
  expect(floorsOf(full).map(({ id }) => id)).toEqual(['cellar', 'ground', 'top']);
  expect(variantsOf(full).map(({ id }) => id)).toEqual(['a', 'b', 'z']);
  const hung = hang(hang(hang(design, 'x', { name: 'Q-10' }), 'y', { name: 'Q-2' }), 'v', { name: 'Q-1', variantId: 'other' });
  expect(accessPointsOf(hung, 'ground', 'first').map(({ name }) => name)).toEqual(['Q-2', 'Q-10']);
});

describe('merging field by field', () => {
  const hung = hang(design, 'a');
  const ap = hung.accessPoints.a!;
  const change = (after: Partial<AccessPoint>, before: Partial<AccessPoint> = {}): Change => ({
    table: 'accessPoints',
    id: 'a',
    before: { ...ap, ...before },
    after: { ...ap, ...before, ...after },
  });
  test('what nobody else touched is taken, what both set alike is no conflict, what both set otherwise stands and is listed', () => {
    const theirs = applyChanges(hung, edit(hung, 'accessPoints', 'a', { xM: 9, yM: 5, name: 'Theirs' }));
    const { changes, conflicts } = mergeChanges(theirs, [change({ xM: 9, name: 'Mine', heightM: 2 })]);
    expect(conflicts).toEqual([{ table: 'accessPoints', id: 'a', field: 'name', yours: 'Mine', theirs: 'Theirs' }]);
    expect(changes).toHaveLength(1);
    expect(changes[0]).toMatchObject({ before: { xM: 9, yM: 5, heightM: ap.heightM }, after: { xM: 9, yM: 5, name: 'Theirs', heightM: 2 } });
  });
  test('a record that stands as the edit found it takes it whole, also its deletion', () => {
    expect(mergeChanges(hung, [{ ...change({}), after: null } as Change])).toEqual({ changes: [{ ...change({}), after: null }], conflicts: [] });
    const added = { table: 'accessPoints', id: 'n', before: null, after: { ...ap, id: 'n' } } as Change;
    expect(mergeChanges(hung, [added])).toEqual({ changes: [added], conflicts: [] });
    // Added by somebody else meanwhile, otherwise: both are listed whole.
    const other = applyChanges(hung, [{ ...added, after: { ...ap, id: 'n', xM: 1 } } as Change]);
    expect(mergeChanges(other, [added]).conflicts).toEqual([
      { table: 'accessPoints', id: 'n', field: null, yours: added.after, theirs: other.accessPoints.n },
    ]);
  });
});

test('a step knows the versions of what it touches, once each', () => {
  const step = newStep('s', 'Begin', 'me', begun);
  expect(step).toMatchObject({
    id: 's',
    title: 'Begin',
    author: 'me',
    kind: 'do',
    ofStepId: null,
    versions: { project: 5, serviceLevels: 1, floors: 4, variants: 3 },
  });
  expect(
    newStep('s', 'Hang', 'me', addAccessPoint(design, { id: 'a', floorId: 'ground', variantId: 'first', modelId: 'dunlin-c2', xM: 0, yM: 0 }))
      .versions,
  ).toEqual({
    accessPoints: 4,
  });
});

test.each([
  [1, 1, true],
  [NaN, NaN, true],
  [0, '0', false],
  [null, {}, false],
  [{}, null, false],
  [[], {}, false],
  [[1, 2], [1, 2], true],
  [[1, 2], [2, 1], false],
  [{ a: 1, b: undefined }, { a: 1 }, true],
  [{ a: { b: [1] } }, { a: { b: [1] } }, true],
  [{ a: 1 }, { a: 1, b: 0 }, false],
])('%j and %j are the same: %s', (a, b, expected) => expect(sameValue(a, b)).toBe(expected));

test('a project under law of its own: what is hung keeps to it, what breaks it is told by its name, and it waits while another is chosen', () => {
  const rules = [
    {
      band: '5' as const,
      subBand: 'Quay',
      powerClass: null,
      channels: [40],
      maxEirpDbm: 12,
      maxDensityDbmPerMhz: null,
      checkS: null,
      indoorOnly: false,
    },
  ];
  const project = { ...design.project.project!, domain: 'own' as const, ownDomain: { name: 'Harbour', rules } };
  const own = applyChanges(design, edit(design, 'project', 'project', project));
  expect(KINDS.project.schema.parse(own.project.project)).toEqual(project);
  expect(KINDS.project.schema.safeParse({ ...project, ownDomain: null }).success).toBe(false);
  expect(KINDS.project.schema.safeParse({ ...project, ownDomain: { name: 'Harbour', rules: [{ ...rules[0]!, channels: [37] }] } }).success).toBe(
    false,
  );
  const hung = applyChanges(own, addAccessPoint(own, { id: 'a', floorId: 'ground', variantId: 'first', modelId: 'heron-c4', xM: 1, yM: 1 }));
  const radio = hung.accessPoints.a!.radios.find(({ band }) => band === '5')!;
  expect(radio.channel).toBe(40);
  // 12 dBm EIRP less 4.8 dBi of antenna, down to half a decibel.
  expect(radio.txPowerDbm).toBe(7);
  const louder = editRadios(hung, ['a'], '5', { txPowerDbm: 9 });
  expect(breachesOf(domainOf(hung.project.project!), louder)).toMatchObject([{ problem: { kind: 'eirp', domain: 'Harbour', maxEirpDbm: 12 } }]);
  const back = applyChanges(hung, edit(hung, 'project', 'project', { domain: 'EU' }));
  expect(domainOf(back.project.project!)).toBe('EU');
  expect(back.project.project!.ownDomain).toEqual(project.ownDomain);
  // The same step chooses the law that judges it.
  expect(breachesOf('EU', [...edit(back, 'project', 'project', { domain: 'own' }), ...louder])).toHaveLength(1);
});

describe('law in commands', () => {
  const emptyProject = (domain: DomainId) => applyChanges(design, edit(design, 'project', 'project', { domain }));
  const hung = (modelId: string, domain: DomainId = 'EU') => {
    const start = applyChanges(
      emptyProject(domain),
      addAccessPoint(emptyProject(domain), { id: 'a', floorId: 'ground', variantId: 'first', modelId, xM: 0, yM: 0 }),
    );
    return start;
  };
  const radioOf = (design: Design, band: Band) => design.accessPoints.a!.radios.find((radio) => radio.band === band)!;
  test('whatever is hung is lawful, in every model and domain', () => {
    for (const { id } of AP_MODELS)
      for (const domain of ['EU', 'US', 'UK'] as const) {
        const design = emptyProject(domain);
        expect(breachesOf(domain, addAccessPoint(design, { id: 'a', floorId: 'ground', variantId: 'first', modelId: id, xM: 0, yM: 0 }))).toEqual([]);
      }
  });
  test('a channel or width with less power lowers the power; a power asked for is taken as it is and is a breach', () => {
    const design = hung('kittiwake-t6', 'US');
    const wide = applyChanges(design, changeWidth(design, ['a'], '6', 80));
    const loud = applyChanges(wide, editRadios(wide, ['a'], '6', { txPowerDbm: 19 }));
    expect(radioOf(applyChanges(loud, changeWidth(loud, ['a'], '6', 20)), '6').txPowerDbm).toBe(13);
    expect(breachesOf('US', changeWidth(loud, ['a'], '6', 20))).toEqual([]);
    expect(breachesOf('US', editRadios(wide, ['a'], '6', { txPowerDbm: 20 }))).toMatchObject([{ apId: 'a', problem: { kind: 'eirp' } }]);
  });
  test('a model that hangs outdoors leaves the channels for indoors, by hanging, by width and by change of model', () => {
    const indoors = hung('heron-c4');
    expect(radioOf(indoors, '5').channel).toBe(36);
    const outdoors = applyChanges(indoors, changeModel(indoors, ['a'], 'gannet-d2'));
    expect(radioOf(outdoors, '5').channel).toBe(100);
    expect(radioOf(applyChanges(outdoors, changeWidth(outdoors, ['a'], '5', 40)), '5')).toMatchObject({ channel: 100, widthMhz: 40 });
    expect(radioOf(hung('gannet-d2'), '5').channel).toBe(100);
  });
  test('what stood and is not touched is no breach: a move, a name, another band, another domain', () => {
    const design = hung('heron-c4');
    const old = applyChanges(design, editRadios(design, ['a'], '2.4', { txPowerDbm: 20 }));
    expect(breachesOf('EU', moveAccessPoints(old, ['a'], 1, 0))).toEqual([]);
    expect(breachesOf('EU', editRadios(old, ['a'], '5', { txPowerDbm: 10 }))).toEqual([]);
    expect(breachesOf('EU', edit(old, 'project', 'project', { domain: 'US' }))).toEqual([]);
    expect(breachesOf('EU', editRadios(old, ['a'], '2.4', { channel: 6, txPowerDbm: 20 }))).toHaveLength(1);
    // Switched on, or widened, what was no breach is one; another model is judged anew, and a deletion is none.
    const off = applyChanges(old, editRadios(old, ['a'], '2.4', { on: false, txPowerDbm: 20 }));
    expect(breachesOf('EU', edit(off, 'accessPoints', 'a', { xM: 2 }))).toEqual([]);
    expect(breachesOf('EU', editRadios(off, ['a'], '2.4', { on: true, txPowerDbm: 20 }))).toHaveLength(1);
    expect(breachesOf('EU', editRadios(old, ['a'], '2.4', { widthMhz: 40, txPowerDbm: 20 }))).toHaveLength(1);
    expect(breachesOf('EU', edit(old, 'accessPoints', 'a', { modelId: 'kittiwake-t6' }))).toHaveLength(1);
    expect(breachesOf('EU', remove(old, 'accessPoints', ['a']))).toEqual([]);
    expect(notLawful(breachesOf('EU', editRadios(off, ['a'], '2.4', { on: true, txPowerDbm: 20 }))).details).toEqual({
      errors: [{ path: 'G-01, 2.4 GHz', message: expect.stringContaining('23.8 dBm EIRP') }],
    });
    // In one step with a domain that allows it, it is lawful.
    expect(
      breachesOf('EU', [...edit(old, 'project', 'project', { domain: 'US' }), ...editRadios(old, ['a'], '2.4', { channel: 6, txPowerDbm: 20 })]),
    ).toEqual([]);
  });
  test('decibels are added within model and law, and copies of what is too loud are lawful', () => {
    const design = hung('heron-c4');
    const power = (db: number) => radioOf(applyChanges(design, shiftPower(design, ['a'], '2.4', db)), '2.4').txPowerDbm;
    const now = radioOf(design, '2.4').txPowerDbm;
    expect([power(-3), power(1), power(40), power(-40)]).toEqual([now - 3, Math.min(16, now + 1), 16, 3]);
    const loud = applyChanges(design, editRadios(design, ['a'], '2.4', { txPowerDbm: 20 }));
    expect(breachesOf('EU', duplicateAccessPoints(loud, ['a'], ['b']))).toEqual([]);
  });
});

test('an access point of version 2 is read with no channel forbidden; today’s is taken as it is', () => {
  const today = hang(design, 'a').accessPoints.a!;
  const old = { ...today, radios: today.radios.map(({ forbidden: _forbidden, ...radio }) => radio) };
  expect(readRecord('accessPoints', 2, old)).toEqual(today);
  expect(() => readRecord('accessPoints', 3, old)).toThrow();
});

test('a variant of version 2 keeps its retune: radar detection as it was said, all else as it was', () => {
  const { dfs: _dfs, mostChanges: _most, groups: _groups, widthCost: _width, leastServiceDbm: _least, ...rest } = DEFAULT_RULES;
  const of = (useDfs: boolean) => ({ id: 'v', name: 'First', order: 0, retune: { bands: ['5'], ...rest, useDfs } });
  const kept = { bands: ['5'], ...rest, mostChanges: null, groups: [], building: false, countPeople: false, starts: 1 };
  expect(readRecord('variants', 2, of(true))).toEqual({ ...of(true), retune: { ...kept, dfs: 'if equal' } });
  expect(readRecord('variants', 2, of(false))).toEqual({ ...of(false), retune: { ...kept, dfs: 'never' } });
  expect(readRecord('variants', 2, { ...of(true), retune: null })).toEqual({ ...of(true), retune: null });
  expect(() => readRecord('variants', 3, of(true))).toThrow();
});

test('a zone of version 4 is as it was; one of electronics is of version 5', () => {
  const corners = [0, 4].flatMap((xM) => [{ xM, yM: xM }]);
  const zone = {
    id: 'z',
    floorId: 'f',
    kind: 'room',
    name: 'Hall',
    polygon: [...corners, { xM: 0, yM: 4 }],
    holes: [],
    serviceLevelId: null,
    people: null,
    clutter: null,
    keepsOut: 'access points',
  };
  expect(readRecord('zones', 4, zone)).toEqual(zone);
  expect(readRecord('zones', 5, { ...zone, kind: 'electronics' })).toEqual({ ...zone, kind: 'electronics' });
});
