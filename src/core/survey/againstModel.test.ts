import { expect, test } from '@jest/globals';
import { materialOf } from '../building/material';
import { panesOf } from '../building/panes';
import { mediumOf } from '../propagation/medium';
import { sightLine } from '../propagation/ray';
import { modelOf, radioModelOf } from '../radio/catalogue';
import { againstModel, type DesignedRadio } from './againstModel';
import { HEARD_FOR_CERTAIN_DBM } from './receiver';
import type { Sample } from './sample';

const wall = { id: 'w', floorId: 'f', axM: 5, ayM: -20, bxM: 5, byM: 20, baseM: 0, topM: 3, materialId: 'brick' };
const medium = mediumOf(panesOf([wall], [], 0, materialOf, 3), { exponent: 2 });
const radio = (apId: string, xM: number): DesignedRadio => ({
  apId,
  pose: { xM, yM: 0, zM: 2.5, azimuthDeg: 0, tiltDeg: 0 },
  antenna: radioModelOf(modelOf('heron-c4'), '5')!.antenna,
  channel: { band: '5', primary: 36, widthMhz: 20 },
  txPowerDbm: 12,
});
const sample = (apId: string | null, xM: number, rssiDbm: number, fields: Partial<Sample> = {}): Sample => ({
  leg: 0,
  tMs: 0,
  xM,
  yM: 0,
  bssid: apId ?? 'n',
  ssid: 's',
  apId,
  band: '5',
  channel: 36,
  widthMhz: 20,
  rssiDbm,
  ...fields,
});

test('samples are held against the ray to their own place, walls and all; what differs is the radio, not the place', () => {
  const [near, weak] = [radio('near', 0), radio('weak', 2)];
  const at = (of: DesignedRadio, xM: number) => of.txPowerDbm - sightLine(medium, of.pose, of.antenna, '5', { xM, yM: 0, zM: 1 }, 0, 5180).lossDb;
  // Each side of the wall once; the second radio is 8 dB below its design everywhere, give or take 1.
  const samples = [
    ...[1, 3, 8].map((x) => sample('near', x, at(near, x))),
    sample('weak', 3, at(weak, 3) - 7),
    sample('weak', 8, at(weak, 8) - 9),
    sample(null, 1, -40),
    sample('near', 1, -20, { band: '2.4' }),
  ];
  const rows = againstModel(medium, 1, [near, weak, radio('unheard', 9)], samples);
  expect(rows.map(({ apId, count }) => [apId, count])).toEqual([
    ['near', 3],
    ['weak', 2],
  ]);
  expect(rows[0]!.differenceDb).toBeCloseTo(0, 9);
  expect(rows[0]!.sigmaDb).toBeCloseTo(0, 6);
  expect(rows[0]!.predictedDbm).toBeCloseTo((at(near, 1) + at(near, 3) + at(near, 8)) / 3, 9);
  expect([rows[1]!.differenceDb, rows[1]!.sigmaDb]).toEqual([expect.closeTo(-8, 9), expect.closeTo(1, 9)]);
});

test('what is predicted near the end of hearing is not compared: only lucky beacons are heard there', () => {
  const far = { ...radio('far', 0), txPowerDbm: -20 };
  const dbm = (xM: number) => -20 - sightLine(medium, far.pose, far.antenna, '5', { xM, yM: 0, zM: 1 }, 0, 5180).lossDb;
  expect(dbm(4)).toBeGreaterThan(HEARD_FOR_CERTAIN_DBM);
  expect(dbm(30)).toBeLessThan(HEARD_FOR_CERTAIN_DBM);
  const [row] = againstModel(medium, 1, [far], [sample('far', 4, dbm(4)), sample('far', 30, dbm(30) + 12)]);
  expect([row!.count, row!.differenceDb]).toEqual([1, expect.closeTo(0, 9)]);
});
