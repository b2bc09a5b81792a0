import { describe, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { readAntenna, readEquipment, writeAntenna, writeEquipment } from '@/contract/equipmentFile';
import { modelKey, modelOf, radioModelOf } from '../radio/catalogue';
import { CLIENT_TYPES } from '../radio/clientTypes';
import { editRadios, remove } from './commands';
import { readRecord } from './registry';
import { allClientTypes, allModels, clientTypesOf, expectedClients, modelsOf, variantsOf } from './design';
import {
  addClientType,
  addModel,
  editClientType,
  editModel,
  removeClientType,
  removeModel,
  removeWhole,
  takeIn,
  usesOfModel,
} from './equipmentCommands';
import { breachesOf } from './lawful';
import { brokenReferences, factsOf, questionsOf } from './references';
import { KINDS, type Design } from './registry';
import { applyChanges, type Change } from './step';

const bare = museum();
const ap = Object.values(bare.accessPoints).find(({ name, variantId }) => name === 'Q-01' && variantId === variantsOf(bare).at(-1)!.id)!;
const broken = (on: Design, changes: readonly Change[]) => brokenReferences(changes, factsOf(on, questionsOf(changes)));
const withOwn = applyChanges(bare, addModel(bare, 'mine', ap.modelId));
const hung = applyChanges(withOwn, [{ table: 'accessPoints', id: ap.id, before: ap, after: { ...ap, modelId: 'mine' } }]);
const radiosOf = (design: Design) => design.accessPoints[ap.id]!.radios;

describe('access point models of the project', () => {
  test('begin like another, under a name of their own, and are found beside the catalogue', () => {
    const like = modelOf(ap.modelId);
    expect(withOwn.apModels.mine).toEqual({ ...like, id: 'mine', name: `${like.name}, own` });
    expect(KINDS.apModels.schema.parse(withOwn.apModels.mine)).toEqual(withOwn.apModels.mine);
    expect(modelsOf(withOwn)('mine')).toBe(withOwn.apModels.mine);
    expect(modelsOf(withOwn)(ap.modelId)).toBe(like);
    expect(
      allModels(withOwn)
        .map(({ id }) => id)
        .at(-1),
    ).toBe('mine');
    const again = applyChanges(withOwn, addModel(withOwn, 'second', ap.modelId));
    expect(again.apModels.second!.name).toBe(`${like.name}, own 2`);
    // Listed as people count: 2 before 10.
    const many = Array.from({ length: 10 }, (_, i) => i).reduce((on, i) => applyChanges(on, addModel(on, `m${i}`, ap.modelId)), bare);
    expect(
      allModels(many)
        .slice(-10)
        .map(({ name }) => Number(/\d+$/.exec(name)?.[0] ?? 1)),
    ).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
  });
  test('one that is gone is taken as what stands in, and says so; names of objects are no models', () => {
    expect(modelsOf(bare)('nowhere')).toMatchObject({ id: 'nowhere', name: expect.stringMatching(/^Model that is gone, taken as /) });
    expect(modelsOf(bare)('constructor').name).toMatch(/gone/);
  });
  test('an access point may be of one that is there, and of no other', () => {
    const change = { table: 'accessPoints', id: ap.id, before: ap, after: { ...ap, modelId: 'mine' } } as const;
    expect(broken(withOwn, [change])).toEqual([]);
    expect(broken(bare, [change])).toMatchObject([{ table: 'accessPoints', field: 'modelId', missingId: 'mine' }]);
    expect(broken(bare, [...addModel(bare, 'mine', ap.modelId), change])).toEqual([]);
  });
  test('a lower power, a narrower width, a band less: the radios that hang are brought within it, in the same step', () => {
    const loud = applyChanges(hung, editRadios(hung, [ap.id], '5', { widthMhz: 40, channel: 36, txPowerDbm: 12 }));
    const radios = loud.apModels.mine!.radios.map((radio) => (radio.band === '5' ? { ...radio, maxPowerDbm: 9, maxWidthMhz: 20 as const } : radio));
    const changes = editModel(loud, 'mine', { radios });
    expect(changes.map(({ table }) => table)).toEqual(['apModels', 'accessPoints']);
    const after = applyChanges(loud, changes);
    expect(radiosOf(after).find(({ band }) => band === '5')).toMatchObject({ widthMhz: 20, channel: 36, txPowerDbm: 9 });
    expect(breachesOf('UK', changes, modelsOf(loud))).toEqual([]);
    const one = applyChanges(after, editModel(after, 'mine', { radios: radios.filter(({ band }) => band === '5') }));
    expect(radiosOf(one).map(({ band }) => band)).toEqual(['5']);
    // A name touches no radio.
    expect(editModel(loud, 'mine', { name: 'Other' }).map(({ table }) => table)).toEqual(['apModels']);
  });
  test('deleted, its access points become what stands in, lawfully', () => {
    expect(usesOfModel(hung, 'mine')).toBe(1);
    const changes = removeModel(hung, 'mine');
    const after = applyChanges(hung, changes);
    expect(after.apModels).toEqual({});
    expect(after.accessPoints[ap.id]!.modelId).toBe('dunlin-c2');
    expect(broken(hung, changes)).toEqual([]);
    expect(breachesOf('UK', changes, modelsOf(hung))).toEqual([]);
  });
  test('deleted by key it goes as by its own button, also several at once', () => {
    const two = applyChanges(hung, addModel(hung, 'second', 'heron-c4'));
    expect(applyChanges(two, removeWhole(two, 'apModels', ['mine', 'second']))).toEqual(applyChanges(hung, removeModel(hung, 'mine')));
    const own = applyChanges(bare, addClientType(bare, 'cart', 'scanner'));
    expect(applyChanges(own, removeWhole(own, 'clientTypes', ['cart']))).toEqual(bare);
    // Both change the list of those expected: one change of it, from what it was to what it is.
    const types = applyChanges(own, addClientType(own, 'second', 'phone'));
    const changes = removeWhole(types, 'clientTypes', ['cart', 'second']);
    expect(applyChanges(types, changes)).toEqual(bare);
    expect(changes.filter(({ table }) => table === 'project')).toHaveLength(1);
    expect(removeWhole(hung, 'accessPoints', [ap.id])).toEqual(remove(hung, 'accessPoints', [ap.id]));
  });
  test('what is set is judged by the model as it is, or as the same step makes it', () => {
    const louder = {
      table: 'accessPoints',
      id: ap.id,
      before: hung.accessPoints[ap.id]!,
      after: {
        ...hung.accessPoints[ap.id]!,
        radios: radiosOf(hung).map((radio) => (radio.band === '5' ? { ...radio, channel: 100, txPowerDbm: 25 } : radio)),
      },
    } as const;
    expect(breachesOf('US', [louder], modelsOf(hung))).toMatchObject([{ problem: { kind: 'power' } }]);
    const stronger = hung.apModels.mine!.radios.map((radio) => ({ ...radio, maxPowerDbm: 30, antenna: { ...radio.antenna, peakDbi: 0 } }));
    const [model] = editModel(hung, 'mine', { radios: stronger });
    expect(breachesOf('US', [model!, louder], modelsOf(hung))).toEqual([]);
  });
  test('fields are remembered by what a model sends, not by its name alone', () => {
    const { mine } = hung.apModels;
    expect(modelKey({ ...mine!, poeW: 50 })).toBe(modelKey(mine!));
    const [first, ...rest] = mine!.radios;
    expect(modelKey({ ...mine!, radios: [{ ...first!, antenna: { ...first!.antenna, peakDbi: 9 } }, ...rest] })).not.toBe(modelKey(mine!));
  });
});

describe('client types of the project', () => {
  const own = applyChanges(bare, addClientType(bare, 'cart', 'scanner'));
  test('begin like another and are expected; what is not known is the common client', () => {
    expect(own.clientTypes.cart).toEqual({ ...CLIENT_TYPES.find(({ id }) => id === 'scanner')!, id: 'cart', name: 'Scanner, 2.4 GHz only, own' });
    expect(KINDS.clientTypes.schema.parse(own.clientTypes.cart)).toEqual(own.clientTypes.cart);
    expect(
      expectedClients(own)
        .map(({ id }) => id)
        .at(-1),
    ).toBe('cart');
    expect(allClientTypes(own)).toHaveLength(CLIENT_TYPES.length + 1);
    expect(clientTypesOf(own)('cart').bands).toEqual(['2.4']);
    expect(clientTypesOf(own)('toString').id).toBe('common');
    const both = applyChanges(own, editClientType(own, 'cart', { bands: ['2.4', '5'] }));
    expect(clientTypesOf(both)('cart').bands).toEqual(['2.4', '5']);
  });
  test('deleted, it is not expected any more', () => {
    const after = applyChanges(own, removeClientType(own, 'cart'));
    expect(after).toEqual(bare);
  });
});

describe('files of equipment', () => {
  const own = applyChanges(hung, addClientType(hung, 'cart', 'scanner'));
  const equipment = { models: Object.values(own.apModels), clientTypes: Object.values(own.clientTypes) };
  test('what is written comes back equal, under new ids, and not twice', () => {
    expect(readEquipment(writeEquipment(equipment))).toEqual(equipment);
    let n = 0;
    const taken = applyChanges(
      bare,
      takeIn(bare, readEquipment(writeEquipment(equipment)), () => `new-${++n}`),
    );
    expect(taken.apModels['new-1']).toEqual({ ...own.apModels.mine, id: 'new-1' });
    expect(taken.clientTypes['new-2']).toEqual({ ...own.clientTypes.cart, id: 'new-2' });
    expect(takeIn(taken, equipment, () => 'again')).toEqual([]);
  });
  test('an antenna too', () => {
    const { antenna } = radioModelOf(modelOf('gannet-d2'), '5')!;
    expect(readAntenna(writeAntenna('Patch', antenna))).toEqual({ name: 'Patch', antenna });
  });
  test.each([
    ['no JSON', '{', 'no JSON'],
    ['another file', '{"format":"other"}', 'format'],
    ['an antenna for a list', writeAntenna('Patch', modelOf('gannet-d2').radios[0]!.antenna), 'format'],
    ['a gain above the peak', writeEquipment(equipment).replace('"peakDbi": ', '"peakDbi": 9'), 'peakDbi'],
    [
      'two radios of a band',
      writeEquipment({ ...equipment, models: equipment.models.map((model) => ({ ...model, radios: [model.radios[0]!, model.radios[0]!] })) }),
      'one radio per band',
    ],
    [
      'powers the wrong way round',
      writeEquipment({
        ...equipment,
        models: equipment.models.map((model) => ({ ...model, radios: [{ ...model.radios[0]!, minPowerDbm: 20, maxPowerDbm: 10 }] })),
      }),
      'the lowest power is above the highest',
    ],
    ['a model of the catalogue', writeEquipment({ ...equipment, models: [modelOf('heron-c4')] }), 'of the catalogue'],
  ])('%s is refused with what is wrong', (_, text, problem) => {
    expect(() => readEquipment(text)).toThrow(
      expect.objectContaining({ code: 'EQUIPMENT_FILE_UNREADABLE', details: { problem: expect.stringContaining(problem) } }),
    );
  });
  test('of version 1, which says nothing of bands, takes them as most clients do; a stored type likewise', () => {
    const old = JSON.parse(writeEquipment(equipment));
    const before = { ...old, version: 1, clientTypes: old.clientTypes.map(({ bandRule: _rule, ...type }: { bandRule: unknown }) => type) };
    const read = readEquipment(JSON.stringify(before));
    expect(read.clientTypes).toHaveLength(equipment.clientTypes.length);
    for (const { bandRule } of read.clientTypes) expect(bandRule).toEqual({ prefers: 'highest', fromDbm: -70 });
    expect(() => readEquipment(JSON.stringify({ ...before, version: 2 }))).toThrow(expect.objectContaining({ code: 'EQUIPMENT_FILE_UNREADABLE' }));
    const { bandRule: _rule, ...stored } = equipment.clientTypes[0]!;
    expect(readRecord('clientTypes', 1, stored)).toMatchObject({ bandRule: { prefers: 'highest', fromDbm: -70 } });
  });
  test('of a newer program is said to be so', () => {
    expect(() => readEquipment(writeEquipment(equipment).replace('"version": 2', '"version": 3'))).toThrow(
      expect.objectContaining({ code: 'PROJECT_NEWER' }),
    );
  });
});
