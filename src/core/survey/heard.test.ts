import { describe, expect, test } from '@jest/globals';
import { batchesOf, countedOf, joined, NOTHING_COUNTED, NOTHING_HEARD, placesOn } from './heard';
import { dropOutsOf, halfLostDbm } from './receiver';
import { chosenChannels, DEFAULT_SETTING, joinScans, scansUntil, type Scan } from './setting';

const sample = { leg: 0, tMs: 0, xM: 0, yM: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20, rssiDbm: -50 };
const scan: Scan = {
  leg: 0,
  fromMs: 0,
  toMs: 1000,
  dwellMs: 100,
  channels: [
    { band: '5', channel: 36 },
    { band: '2.4', channel: 6 },
  ],
  ssid: '',
};
const turns = [
  { xM: 0, yM: 0, tMs: 0 },
  { xM: 10, yM: 0, tMs: 10_000 },
];
const walk = { legs: [{ turns }], leftOut: [], receiver: null };

describe('what counts of a walk', () => {
  test('beacons lie where the way is now: a turn that was moved takes them along, a turn that is gone takes them away', () => {
    const heard = { ...NOTHING_HEARD, samples: [0, 4000, 10_000].map((tMs) => ({ ...sample, tMs, xM: tMs / 1000 })), scans: [] };
    expect(countedOf(walk, heard).samples.map(({ xM, yM }) => [xM, yM])).toEqual([
      [0, 0],
      [4, 0],
      [10, 0],
    ]);
    const moved = { ...walk, legs: [{ turns: [turns[0]!, { ...turns[1]!, yM: 5 }] }] };
    expect(countedOf(moved, heard).samples.map(({ xM, yM }) => [xM, yM])).toEqual([
      [0, 0],
      [4, 2],
      [10, 5],
    ]);
    const cut = { ...walk, legs: [{ turns: [turns[0]!, { xM: 5, yM: 0, tMs: 5000 }] }] };
    expect(countedOf(cut, heard).samples.map(({ xM }) => xM)).toEqual([0, 4]);
    // Brought in without a way it stays where it was put.
    expect(countedOf({ ...walk, legs: [] }, heard).samples.map(({ xM }) => xM)).toEqual([0, 4, 10]);
  });
  test('a place on the way is the same whichever time was asked before', () => {
    const bent = [0, 2000, 5000, 5000, 9000].map((tMs, i) => ({ xM: i * i, yM: i % 2, tMs }));
    const legs = [{ turns: bent }, { turns: bent.map((turn) => ({ ...turn, xM: turn.xM + 50, tMs: turn.tMs + 20_000 })) }];
    const placeAt = placesOn(legs);
    for (const [leg, tMs] of [
      [0, 8000],
      [0, 5000],
      [0, 1000],
      [0, 5000],
      [0, 4999],
      [1, 29_000],
      [1, 20_500],
      [0, 9000],
      [0, 0],
      [0, 9001],
      [0, 3000],
    ] as const)
      expect(placeAt(leg, tMs)).toEqual(placesOn(legs)(leg, tMs));
    expect(placeAt(0, 1000)).toEqual({ xM: 0.5, yM: 0.5 });
    expect(placeAt(0, 9001)).toBeNull();
  });
  test('what lies where it was stored, to the millimetre, counts as it is stored; what lies elsewhere is put there', () => {
    const at = (fields: object) => {
      const stored = { ...sample, tMs: 1250, xM: 1.2505, ...fields };
      const [counted] = countedOf(walk, { ...NOTHING_HEARD, samples: [stored] }).samples;
      return counted === stored ? 'as stored' : [counted!.xM, counted!.yM];
    };
    expect(at({})).toBe('as stored');
    expect(at({ xM: 1.2491, yM: 0.0009 })).toBe('as stored');
    expect(at({ xM: 1.2511 })).toEqual([1.25, 0]);
    expect(at({ xM: 1.2489 })).toEqual([1.25, 0]);
    expect(at({ yM: -0.001 })).toEqual([1.25, 0]);
    expect(at({ yM: 0.001 })).toEqual([1.25, 0]);
  });
  test('a leg that is left out counts neither as heard nor as listened to', () => {
    const legs = [{ turns }, { turns: turns.map((turn) => ({ ...turn, tMs: turn.tMs + 10_000 })) }];
    const heard = {
      ...NOTHING_HEARD,
      samples: [sample, { ...sample, leg: 1, tMs: 12_000 }],
      scans: [scan, { ...scan, leg: 1, fromMs: 10_000, toMs: 10_500 }],
    };
    const all = countedOf({ ...walk, legs }, heard);
    expect([all.samples.length, all.visits.length]).toEqual([2, 15]);
    const without = countedOf({ ...walk, legs, leftOut: [0] }, heard);
    expect(without.samples.map(({ tMs }) => tMs)).toEqual([12_000]);
    expect(without.visits.every(({ leg }) => leg === 1)).toBe(true);
  });
  test('what the adapter is known to read less is put on, and the level from which on it hears with it', () => {
    const [one] = countedOf({ ...walk, receiver: { adapter: 'phone' } }, { ...NOTHING_HEARD, samples: [sample], scans: [scan] }).samples;
    expect(one!.rssiDbm).toBe(-45);
    const { visits } = countedOf({ ...walk, receiver: { adapter: 'phone' } }, { ...NOTHING_HEARD, samples: [], scans: [scan] });
    expect(visits[0]!.hearsFromDbm).toBeCloseTo(halfLostDbm('5') + 5, 9);
  });
  test('an address that is linked counts as its access point’s; who is known already stays', () => {
    const heard = { ...NOTHING_HEARD, samples: [{ ...sample, apId: null }, sample, { ...sample, apId: null, bssid: 'other' }], scans: [] };
    expect(countedOf(walk, heard, new Map([['b', 'linked']])).samples.map(({ apId }) => apId)).toEqual(['linked', 'a', null]);
  });
  test('visits go through the list by the clock, each at its place on the way', () => {
    const { visits } = countedOf(walk, { ...NOTHING_HEARD, samples: [], scans: [{ ...scan, fromMs: 150, toMs: 500 }] });
    expect(visits.map(({ tMs, xM, band, channel }) => [tMs, xM, band, channel])).toEqual([
      [200, 0.2, '5', 36],
      [300, 0.3, '2.4', 6],
      [400, 0.4, '5', 36],
    ]);
    expect(countedOf(walk, { ...NOTHING_HEARD, samples: [], scans: [{ ...scan, channels: [] }] }).visits).toEqual([]);
  });
  test('of several walks the legs are counted on; one alone is what it was, of none there is nothing', () => {
    const one = { ...NOTHING_COUNTED, samples: [sample, { ...sample, leg: 2 }], visits: [] };
    const visit = { ...countedOf(walk, { ...NOTHING_HEARD, samples: [], scans: [scan] }).visits[0]! };
    const other = { ...NOTHING_COUNTED, samples: [sample], visits: [{ ...visit, leg: 4 }] };
    const all = joined([one, NOTHING_COUNTED, other, one]);
    expect(all.samples.map(({ leg }) => leg)).toEqual([0, 2, 3, 8, 10]);
    expect(all.visits.map(({ leg }) => leg)).toEqual([7]);
    expect(joined([NOTHING_COUNTED, one])).toBe(one);
    expect(joined([])).toBe(NOTHING_COUNTED);
  });
});

describe('stretches of listening', () => {
  test('are one where nothing lies between and the list is the same', () => {
    const next = { ...scan, fromMs: 1000, toMs: 1200 };
    expect(joinScans([scan, next])).toEqual([{ ...scan, toMs: 1200 }]);
    for (const other of [
      { ...next, fromMs: 1001 },
      { ...next, leg: 1 },
      { ...next, dwellMs: 90 },
      { ...next, ssid: 'x' },
      { ...next, channels: scan.channels.slice(1) },
      { ...next, channels: [scan.channels[0]!, { band: '2.4' as const, channel: 11 }] },
    ])
      expect(joinScans([scan, other])).toHaveLength(2);
  });
  test('end where time is cut', () => {
    expect(scansUntil([scan, { ...scan, fromMs: 1000, toMs: 2000 }, { ...scan, fromMs: 2000, toMs: 2100 }], 1500)).toEqual([
      scan,
      { ...scan, fromMs: 1000, toMs: 1500 },
    ]);
  });
  test('chosen channels are of whichever band has them', () => {
    const of = (bands: typeof DEFAULT_SETTING.bands, channels: number[]) =>
      chosenChannels({ bands, channels }).map(({ band, channel }) => `${band}/${channel}`);
    expect(of(['2.4', '5', '6'], [36, 1, 1, 200])).toEqual(['2.4/1', '5/36', '6/1']);
    expect(of(['5'], [1, 6])).toEqual([]);
  });
});

test('what was heard goes in parts of no more than are taken at once, in order; when it was listened goes once, also where nothing was heard', () => {
  const samples = Array.from({ length: 7 }, (_, tMs) => ({ ...sample, tMs }));
  const parts = batchesOf({ ...NOTHING_HEARD, samples, scans: [scan] }, 3);
  expect(parts.map((part) => part.samples.map(({ tMs }) => tMs))).toEqual([[0, 1, 2], [3, 4, 5], [6]]);
  expect(parts.map(({ scans }) => scans.length)).toEqual([1, 0, 0]);
  expect(batchesOf({ ...NOTHING_HEARD, samples: [], scans: [scan] }, 3)).toEqual([{ ...NOTHING_HEARD, scans: [scan] }]);
  expect(batchesOf({ ...NOTHING_HEARD, samples: [], scans: [] }, 3)).toEqual([]);
});

describe('drop-outs', () => {
  test('as many an hour as are asked, of 3 to 8 s, the same for the same seed; none where none are', () => {
    const goneAt = dropOutsOf(5, 6);
    let [drops, gone] = [0, 0];
    for (let tMs = 0; tMs < 3_600_000; tMs += 100) {
      if (goneAt(tMs) === null) continue;
      gone++;
      if (goneAt(tMs - 100) === null) drops++;
      expect(goneAt(tMs)! - tMs).toBeLessThanOrEqual(8000);
    }
    expect(drops).toBe(6);
    expect(gone / 10 / drops).toBeGreaterThan(3);
    expect(gone / 10 / drops).toBeLessThan(8);
    const at = Array.from({ length: 6000 }, (_, i) => i * 100).find((tMs) => goneAt(tMs) !== null)!;
    expect(dropOutsOf(5, 6)(at)).toBe(goneAt(at));
    expect(dropOutsOf(5, 0)(at)).toBeNull();
  });
});
