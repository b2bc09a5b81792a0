import { expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { addMark, addTransferTest, linkAddress, linkedAddresses, marksOn, testsBySpot, type TransferTest } from './surveyCommands';
import { remove } from './commands';
import { applyChanges } from './step';
import { readRecord } from './registry';

const design = cottage();
const floorId = Object.keys(design.floors)[0]!;
const variantId = Object.keys(design.variants)[0]!;

test('marks are numbered in the order in which they were set, floor by floor, and go with their floor', () => {
  const two = ['b', 'a'].reduce((now, id, i) => applyChanges(now, addMark({ id, floorId, xM: i, yM: 2 })), design);
  expect(marksOn(two, floorId).map(({ id, note, photos }) => [id, note, photos])).toEqual([
    ['a', '', []],
    ['b', '', []],
  ]);
  expect(marksOn(two, 'other')).toEqual([]);
  // The last floor cannot go: here there is one more.
  const floors = { ...two.floors, extra: { ...two.floors[floorId]!, id: 'extra' } };
  const gone = applyChanges({ ...two, floors }, remove({ ...two, floors }, 'floors', [floorId]));
  expect(gone.marks).toEqual({});
  const photo = { assetId: 'f'.repeat(64), name: 'shelves' };
  expect(readRecord('marks', 1, { ...two.marks.a!, photos: [photo] })).toMatchObject({ photos: [photo] });
  expect(() => readRecord('marks', 1, { ...two.marks.a!, photos: [{ ...photo, assetId: 'x' }] })).toThrow();
});

test('throughput tests are told by spot, within a metre, the oldest first', () => {
  const made = (id: string, xM: number, at: string): TransferTest => ({
    id,
    variantId,
    floorId,
    name: 'As found',
    at: `2026-11-0${at}T10:00:00.000Z`,
    xM,
    yM: 1,
    apName: 'A',
    bssid: '02:00:00:00:00:01',
    band: '5',
    channel: 36,
    widthMhz: 80,
    rssiDbm: -50,
    snrDb: 40,
    runs: [{ downMbps: 100, upMbps: 50, retries: 0 }],
  });
  const all = [made('late', 4.4, '9'), made('first', 4, '1'), made('other', 5.1, '2')];
  const with3 = all.reduce((now, one) => applyChanges(now, addTransferTest(one)), design);
  expect(testsBySpot(with3, floorId).map((tests) => tests.map(({ id }) => id))).toEqual([['first', 'late'], ['other']]);
  expect(() => readRecord('transferTests', 1, { ...all[0]!, runs: [] })).toThrow();
});

test('an address is one access point’s, another’s, or nobody’s; it goes with its access point', () => {
  const [one, other] = Object.keys(design.accessPoints) as [string, string];
  const bssid = '02:77:20:00:00:01';
  const linked = applyChanges(design, linkAddress(design, 'l1', bssid, one));
  expect([...linkedAddresses(linked)]).toEqual([[bssid, one]]);
  const again = applyChanges(linked, linkAddress(linked, 'l2', bssid, other));
  expect([...linkedAddresses(again)]).toEqual([[bssid, other]]);
  expect(Object.keys(again.addresses)).toEqual(['l1']);
  expect(linkedAddresses(applyChanges(again, linkAddress(again, 'l3', bssid, null))).size).toBe(0);
  expect(linkAddress(design, 'l4', bssid, null)).toEqual([]);
  expect(applyChanges(again, remove(again, 'accessPoints', [other])).addresses).toEqual({});
});
